import { createHash } from 'node:crypto';
import { open, readFile, stat } from 'node:fs/promises';
import {
  bytesOf,
  channelValues,
  isEarlierTrace,
  readEarlierTrace,
  readMachineFile,
  traceHeaderSchema,
  type MachineFile,
  type TraceHeader,
} from '@kavrid/contract';
import { ArchiveError, archiveLimits, piecesOf } from './archive.ts';

export type CheckedFile =
  | { readonly kind: 'file'; readonly file: MachineFile; readonly isArchive: boolean }
  | { readonly kind: 'refused'; readonly problems: readonly { readonly pointer: string; readonly detail: string }[] };

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');
const refused = (detail: string, pointer = ''): CheckedFile => ({ kind: 'refused', problems: [{ pointer, detail }] });

/**
 * Checks a machine file on disk to the last number of its traces, one piece in memory at a time.
 * @param progress told the share done, 0 to 1
 */
export async function checkFile(path: string, progress: (share: number) => void): Promise<CheckedFile> {
  const { size } = await stat(path);
  const handle = await open(path);
  const { buffer } = await handle.read(Buffer.alloc(4), 0, 4, 0).finally(() => handle.close());
  if (buffer.toString('latin1') !== 'PK\x03\x04') {
    if (size > archiveLimits.piece)
      return refused(
        `The file is ${Math.round(size / 2 ** 20)} MB of JSON; at most ${archiveLimits.piece / 2 ** 20} MB are taken.`,
      );
    const reading = readMachineFile(await readFile(path), sha256);
    if (reading.kind === 'refused') return reading;
    const runs = reading.file.axes.flatMap((axis) => axis.runs ?? []);
    return runs.length > 0
      ? refused('The file lists runs; their traces stand in an archive only.', '/axes')
      : { ...reading, isArchive: false };
  }
  try {
    return await checkArchive(path, size, progress);
  } catch (error) {
    if (error instanceof ArchiveError) return refused(error.message);
    throw error;
  }
}

async function checkArchive(path: string, size: number, progress: (share: number) => void): Promise<CheckedFile> {
  let file: MachineFile | undefined;
  const traces = new Map<string, TraceReading>();
  const problems: { pointer: string; detail: string }[] = [];
  let done = 0;
  for await (const piece of piecesOf(path)) {
    const bytes = await piece.read();
    const [, id = '', kind] = /^traces\/(.+)\.(json|bin)$/.exec(piece.name) ?? [];
    if (kind === undefined) {
      const reading = readMachineFile(bytes, sha256);
      if (reading.kind === 'refused') return reading;
      file = reading.file;
    } else {
      const reading = kind === 'json' ? readHeader(bytes) : checkSamples(traces.get(id), bytes);
      if (reading.kind === 'refused' && reading !== traces.get(id))
        problems.push({ pointer: piece.name, detail: reading.because });
      traces.set(id, reading);
      if (problems.length >= 50) break;
    }
    // Traces of numbers pack to about a quarter; near enough for a bar.
    done += piece.size / 4;
    progress(Math.min(0.99, done / size));
  }
  if (!file) return refused('The archive has no “machine.json”.');
  const listed = new Set(file.axes.flatMap((axis) => axis.runs ?? []).map(({ id }) => id));
  for (const id of listed) {
    const trace = traces.get(id);
    if (problems.length >= 50) break;
    if (trace === undefined)
      problems.push({ pointer: `traces/${id}.json`, detail: 'The file lists this run, but its trace is missing.' });
    else if (trace.kind === 'described')
      problems.push({ pointer: `traces/${id}.bin`, detail: 'The samples of this trace are missing.' });
  }
  for (const id of traces.keys())
    if (!listed.has(id) && problems.length < 50)
      problems.push({ pointer: `traces/${id}.json`, detail: 'No axis of the file lists this run.' });
  return problems.length > 0 ? { kind: 'refused', problems } : { kind: 'file', file, isArchive: true };
}

/** How far a trace of an archive has been read; up to format version 4 it was one piece. */
type TraceReading =
  | { readonly kind: 'described'; readonly header: TraceHeader }
  | { readonly kind: 'whole' }
  | { readonly kind: 'refused'; readonly because: string };

function readHeader(bytes: Buffer): TraceReading {
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch (error) {
    const why = error instanceof Error ? error.message.slice(0, 120) : 'unknown';
    return { kind: 'refused', because: `It cannot be read: ${why}.` };
  }
  if (isEarlierTrace(value)) {
    const earlier = readEarlierTrace(value, '');
    return earlier.kind === 'trace' ? { kind: 'whole' } : earlier;
  }
  const parsed = traceHeaderSchema.safeParse(value);
  if (parsed.success) return { kind: 'described', header: parsed.data };
  const issues = parsed.error.issues.slice(0, 3).map((issue) => `${issue.path.join('/')}: ${issue.message}`);
  return { kind: 'refused', because: issues.join(' ') };
}

function checkSamples(trace: TraceReading | undefined, samples: Buffer): TraceReading {
  if (trace?.kind === 'refused') return trace;
  if (trace?.kind !== 'described')
    return {
      kind: 'refused',
      because: 'What these samples are should stand before them, in the piece of the same name with “.json”.',
    };
  const { header } = trace;
  const wanted = bytesOf(header);
  if (samples.length !== wanted)
    return { kind: 'refused', because: `There are ${samples.length} bytes of samples, where ${wanted} are described.` };
  // A sample may be missing among whole numbers, where it is marked.
  const bad = header.channels.find(({ id, format }) =>
    channelValues({ header, samples }, id)?.some((each) =>
      format === 'int32' ? Math.abs(each) === Infinity : !Number.isFinite(each),
    ),
  );
  return bad ? { kind: 'refused', because: `A sample of “${bad.id}” is not a number.` } : { kind: 'whole' };
}
