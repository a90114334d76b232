import { crc32 } from 'node:zlib';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';

/** Bytes that a piece of an archive may unpack to, and the whole of it. */
export const archiveLimits = { piece: 128 * 2 ** 20, whole: 8 * 2 ** 30, pieces: 200_000, ratio: 400 } as const;

/** What an archive of ours holds: `machine.json`, and for each run what its trace is of and its samples. */
const pieceName = /^(machine\.json|traces\/[A-Za-z0-9_-]{1,40}\.(json|bin))$/;

export interface Piece {
  readonly name: string;
  readonly size: number;
  /** @throws Error when the contents are damaged */
  readonly read: () => Promise<Buffer>;
}

/** A wrong archive, in words for the person who sent it. */
export class ArchiveError extends Error {}

const openFile = (path: string): Promise<ZipFile> =>
  new Promise((resolve, reject) =>
    openZip(path, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error, zip) =>
      error ? reject(new ArchiveError(`The archive cannot be read: ${error.message}.`)) : resolve(zip),
    ),
  );

/**
 * Goes through the pieces of a ZIP archive one after the other, so that only one is ever in memory. Names that are not
 * ours (and with them every trick with paths), encryption, doubled names and pieces that unpack to more than
 * {@link archiveLimits} are refused before anything is unpacked; sizes and check sums are held against what is unpacked.
 * @throws ArchiveError
 */
export async function* piecesOf(path: string): AsyncGenerator<Piece> {
  const zip = await openFile(path);
  const seen = new Set<string>();
  let whole = 0;
  try {
    if (zip.entryCount > archiveLimits.pieces)
      throw new ArchiveError(`The archive has ${zip.entryCount} entries; at most ${archiveLimits.pieces} are taken.`);
    for (let entry = await nextEntry(zip); entry; entry = await nextEntry(zip)) {
      const { fileName: name, uncompressedSize, compressedSize } = entry;
      if (!pieceName.test(name))
        throw new ArchiveError(
          `The archive has an entry “${name.slice(0, 80)}”, which has no place in a machine file.`,
        );
      if (seen.has(name)) throw new ArchiveError(`The archive has “${name}” twice.`);
      seen.add(name);
      if (entry.isEncrypted()) throw new ArchiveError('The archive is encrypted.');
      whole += uncompressedSize;
      if (uncompressedSize > archiveLimits.piece || whole > archiveLimits.whole)
        throw new ArchiveError(
          `“${name}” unpacks to ${Math.round(uncompressedSize / 2 ** 20)} MB; at most ${archiveLimits.piece / 2 ** 20} MB are taken, and ${archiveLimits.whole / 2 ** 30} GB in all.`,
        );
      // Samples of an axis at rest are all alike; the limits above bound them.
      const isText = name.endsWith('.json');
      if (isText && uncompressedSize > 2 ** 20 && uncompressedSize > compressedSize * archiveLimits.ratio)
        throw new ArchiveError(`“${name}” is packed more tightly than any trace: it is not taken.`);
      const piece = entry;
      yield { name, size: uncompressedSize, read: () => unpack(zip, piece) };
    }
  } finally {
    zip.close();
  }
}

/** One piece by name. @throws ArchiveError when it is not there */
export async function readPiece(path: string, name: string): Promise<Buffer> {
  for await (const piece of piecesOf(path)) if (piece.name === name) return piece.read();
  throw new ArchiveError(`The archive has no “${name}”.`);
}

function nextEntry(zip: ZipFile): Promise<Entry | undefined> {
  return new Promise((resolve, reject) => {
    const settle = (act: () => void) => {
      zip.removeListener('entry', onEntry).removeListener('end', onEnd).removeListener('error', onError);
      act();
    };
    const onEntry = (entry: Entry) => settle(() => resolve(entry));
    const onEnd = () => settle(() => resolve(undefined));
    const onError = (error: Error) =>
      settle(() => reject(new ArchiveError(`The archive is damaged: ${error.message}.`)));
    zip.on('entry', onEntry).on('end', onEnd).on('error', onError);
    zip.readEntry();
  });
}

function unpack(zip: ZipFile, entry: Entry): Promise<Buffer> {
  const damaged = (why: string) => new ArchiveError(`“${entry.fileName}” is damaged: ${why}.`);
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => {
      if (error) return reject(damaged(error.message));
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('error', (problem) => reject(damaged(problem.message)));
      stream.on('end', () => {
        const whole = Buffer.concat(chunks);
        if (crc32(whole) !== entry.crc32) reject(damaged('its check sum is wrong'));
        else resolve(whole);
      });
    }),
  );
}
