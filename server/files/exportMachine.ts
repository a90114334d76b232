import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import {
  originsOf,
  canonicalJson,
  fileVersion,
  type MemberDocument,
  type AxisInFile,
  type MachineDocument,
  type MachineFile,
  type RevisionInFile,
} from '@kavrid/contract';
import { ZipFile } from 'yazl';
import { axisEntity, machineEntity, type RevisionRow } from '../database/entities.ts';
import type { Store } from '../database/store.ts';
import type { Download } from '../routes/apiRoutes.ts';

export interface ExportWish {
  /** All saves; without them, those that runs were made with. */
  readonly revisions: boolean;
  readonly runs: boolean;
}

const inFile = <T>({ version, at, author, summary, name, document }: RevisionRow): RevisionInFile<T> => ({
  version,
  at: at.toISOString(),
  author,
  summary,
  name,
  document: document as T,
});

/** The contents of a machine's file, without traces. @returns undefined when there is no such machine */
export async function machineFileOf(store: Store, id: string, wish: ExportWish): Promise<MachineFile | undefined> {
  const machine = await store.source.getRepository(machineEntity).findOneBy({ id });
  if (!machine) return undefined;
  const rows = await store.source
    .getRepository(axisEntity)
    .find({ where: { machineId: id }, order: { position: 'ASC' } });
  const revisionsOf = async <T>(subjectId: string, wanted: (version: number) => boolean) => {
    const kept: RevisionInFile<T>[] = [];
    for await (const row of store.revisions.all(subjectId)) if (wanted(row.version)) kept.push(inFile<T>(row));
    return kept;
  };
  const axes: AxisInFile[] = [];
  for (const row of rows) {
    const runs = wish.runs ? await store.runs.newest(row.id, 100_000) : [];
    const needed = new Set(runs.map((run) => run.axisVersion));
    const revisions = await revisionsOf<MemberDocument>(row.id, (version) => wish.revisions || needed.has(version));
    axes.push({
      id: row.id,
      version: row.version,
      document: row.document,
      ...(row.removed ? { removed: true } : {}),
      ...(revisions.length > 0 ? { revisions } : {}),
      ...(runs.length > 0 ? { runs: runs.map(({ memberId: _, because = '', ...run }) => ({ ...run, because })) } : {}),
    });
  }
  const origins = axes.flatMap(({ document }) => originsOf(document));
  const entries = await Promise.all(
    [...new Set(origins.flatMap((each) => each?.id ?? []))].map((each) => store.library.read(each)),
  );
  const mapIds = [...new Set(axes.flatMap((axis) => axis.document.link.profileId ?? []))];
  const maps = await Promise.all(mapIds.map((each) => store.registerMaps.row(each)));
  const content: MachineFile = {
    format: 'kavrid machine',
    formatVersion: fileVersion,
    exportedAt: new Date().toISOString(),
    machine: {
      id: machine.id,
      version: machine.version,
      document: machine.document,
      ...(wish.revisions ? { revisions: await revisionsOf<MachineDocument>(id, () => true) } : {}),
    },
    axes,
    library: entries.flatMap((entry) => (entry ? [{ id: entry.id, version: entry.version, item: entry.item }] : [])),
    registerMaps: maps.flatMap((map) => (map ? [{ id: map.id, csv: map.csv }] : [])),
  };
  return { ...content, sha256: createHash('sha256').update(canonicalJson(content)).digest('hex') };
}

/** The file to download: JSON, or an archive into which the traces flow one by one as the client takes them. */
export async function exportMachine(
  store: Store,
  id: string,
  wish: ExportWish,
  progress: {
    readonly total: (bytes: number) => void;
    readonly done: (bytes: number) => void;
    readonly signal: AbortSignal;
  },
): Promise<Download | undefined> {
  const file = await machineFileOf(store, id, wish);
  if (!file) return undefined;
  const json = JSON.stringify(file, undefined, 1);
  const name = file.machine.document.name.replace(/[^\p{L}\p{N} ._-]/gu, '_');
  const runIds = file.axes.flatMap((axis) => (axis.runs ?? []).map((run) => run.id));
  if (!wish.runs) {
    progress.total(json.length);
    progress.done(json.length);
    return { type: 'application/json', name: `${name}.json`, body: json };
  }
  progress.total(json.length + (await store.runs.traceSize(file.axes.flatMap((axis) => axis.id ?? []))));
  const zip = new ZipFile();
  zip.addBuffer(Buffer.from(json), 'machine.json');
  progress.done(json.length);
  const lazily = (name: string, bytesOf: () => Promise<Uint8Array | undefined>) =>
    zip.addReadStreamLazy(name, { compressionLevel: 4 }, (answer) => {
      progress.signal.throwIfAborted();
      bytesOf().then(
        (bytes) => {
          if (!bytes) return answer(new Error(`${name} is gone`), Readable.from([]));
          progress.done(bytes.length);
          answer(null, Readable.from(chunked(bytes)));
        },
        (error: unknown) => answer(error, Readable.from([])),
      );
    });
  for (const runId of runIds) {
    lazily(`traces/${runId}.json`, async () => {
      const run = await store.runs.read(runId);
      return run && Buffer.from(JSON.stringify(run.trace));
    });
    lazily(`traces/${runId}.bin`, async () => (await store.runs.trace(runId))?.samples);
  }
  zip.end();
  const body = zip.outputStream as Readable;
  zip.on('error', (error: Error) => body.destroy(error));
  progress.signal.addEventListener('abort', () => body.destroy(new Error('cancelled')));
  return { type: 'application/zip', name: `${name}.zip`, body };
}

function* chunked(samples: Uint8Array): Generator<Uint8Array> {
  const size = 2 ** 18;
  for (let at = 0; at < samples.length; at += size) yield samples.subarray(at, at + size);
}
