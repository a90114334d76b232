import { createHash } from 'node:crypto';
import { open, readFile, stat } from 'node:fs/promises';
import { readMachineFile, readTrace, type MachineFile } from '@kavrid/contract';
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
  const traces = new Set<string>();
  const problems: { pointer: string; detail: string }[] = [];
  let done = 0;
  for await (const piece of piecesOf(path)) {
    const bytes = await piece.read();
    if (piece.name === 'machine.json') {
      const reading = readMachineFile(bytes, sha256);
      if (reading.kind === 'refused') return reading;
      file = reading.file;
    } else {
      traces.add(piece.name.slice('traces/'.length, -'.json'.length));
      const because = traceProblem(bytes);
      if (because) problems.push({ pointer: piece.name, detail: because });
      if (problems.length >= 50) break;
    }
    // Traces of numbers pack to about a quarter; near enough for a bar.
    done += piece.size / 4;
    progress(Math.min(0.99, done / size));
  }
  if (!file) return refused('The archive has no “machine.json”.');
  const runs = file.axes.flatMap((axis) => axis.runs ?? []);
  for (const run of runs) {
    if (problems.length >= 50) break;
    if (!traces.delete(run.id))
      problems.push({ pointer: `traces/${run.id}.json`, detail: 'The file lists this run, but its trace is missing.' });
  }
  for (const id of [...traces].slice(0, 50 - problems.length))
    problems.push({ pointer: `traces/${id}.json`, detail: 'No axis of the file lists this run.' });
  return problems.length > 0 ? { kind: 'refused', problems } : { kind: 'file', file, isArchive: true };
}

function traceProblem(bytes: Buffer): string | undefined {
  try {
    const parsed = readTrace(JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)));
    return parsed.success
      ? undefined
      : parsed.error.issues
          .slice(0, 3)
          .map((issue) => `${issue.path.join('/')}: ${issue.message}`)
          .join(' ');
  } catch (error) {
    return `It cannot be read: ${error instanceof Error ? error.message.slice(0, 120) : 'unknown'}.`;
  }
}
