import { randomUUID } from 'node:crypto';
import { fork } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  changesBetween,
  changeWords,
  fieldWords,
  isEarlierTrace,
  readEarlierTrace,
  traceHeaderSchema,
  type ImportState,
  type MachineFile,
  type Trace,
} from '@kavrid/contract';
import { axisEntity, machineEntity, revisionEntity } from '../database/entities.ts';
import type { Store } from '../database/store.ts';
import { ProblemError } from '../problem.ts';
import { archiveLimits, piecesOf } from './archive.ts';
import type { CheckedFile } from './checkFile.ts';
import { mergeKept, takeIn, type TakenIn, type TakeInWish } from './takeIn.ts';

interface Import {
  readonly path: string;
  readonly abort: AbortController;
  state: ImportState;
  file?: MachineFile;
  isArchive: boolean;
}

/** ms for which a file waits to be taken in. */
const patience = 60 * 60 * 1000;

/** Files that came in: read and checked first, in a process of its own so that no axis waits for it; taken in when told to. */
export class ImportKeeper {
  readonly #store: Store;
  readonly #folder: string;
  readonly #imports = new Map<string, Import>();
  #last: Promise<void> = Promise.resolve();
  readonly #taken: (taken: TakenIn, author: string) => void;

  /** @param folder for files that wait; emptied at the start */
  constructor(store: Store, folder: string, taken: (taken: TakenIn, author: string) => void) {
    this.#store = store;
    this.#folder = folder;
    this.#taken = taken;
    // What an earlier process left half-way is of no use any more.
    void this.#emptyFolder().catch(() => undefined);
  }

  /** One file is checked or taken in at a time: each may take a good part of the memory. */
  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.#last.then(work);
    this.#last = turn.then(
      () => undefined,
      () => undefined,
    );
    return turn;
  }

  async #emptyFolder(): Promise<void> {
    await mkdir(this.#folder, { recursive: true });
    for (const name of await readdir(this.#folder))
      if (!this.#imports.has(name)) await rm(join(this.#folder, name), { force: true });
  }

  /** Takes the bytes to disk and begins to check them. @throws ProblemError 413 for too many */
  async start(bytes: Readable): Promise<ImportState> {
    await this.#emptyFolder();
    const id = randomUUID();
    const path = join(this.#folder, id);
    let size = 0;
    const measured = new Transform({
      transform(chunk: Buffer, _encoding, next) {
        size += chunk.length;
        if (size > archiveLimits.whole / 4)
          next(new ProblemError(413, `The file is larger than ${archiveLimits.whole / 4 / 2 ** 30} GB.`));
        else next(null, chunk);
      },
    });
    const entry: Import = {
      path,
      abort: new AbortController(),
      isArchive: false,
      state: { id, phase: 'reading', progress: 0, machineName: '', axes: 0, runs: 0, problems: [] },
    };
    this.#imports.set(id, entry);
    try {
      await pipeline(bytes, measured, createWriteStream(path));
    } catch (error) {
      await this.#forget(id);
      throw error;
    }
    setTimeout(() => void this.#forget(id), patience).unref();
    void this.#inTurn(() => this.#check(entry)).catch((error: unknown) => this.#fail(entry, error));
    return entry.state;
  }

  state(id: string): ImportState | undefined {
    return this.#imports.get(id)?.state;
  }

  async #check(entry: Import): Promise<void> {
    entry.abort.signal.throwIfAborted();
    const result = await checkInProcess(entry.path, entry.abort.signal, (progress) => {
      entry.state = { ...entry.state, progress };
    });
    if (result.kind === 'refused') {
      entry.state = { ...entry.state, phase: 'refused', problems: [...result.problems] };
      await rm(entry.path, { force: true });
      return;
    }
    const { file } = result;
    entry.file = file;
    entry.isArchive = result.isArchive;
    const existing = await this.#existing(file);
    entry.state = {
      ...entry.state,
      phase: 'ready',
      progress: 1,
      machineName: file.machine.document.name,
      axes: file.axes.length,
      runs: file.axes.reduce((sum, axis) => sum + (axis.runs?.length ?? 0), 0),
      ...(existing ? { existing } : {}),
    };
  }

  /** What merging would do to the copy that is here. */
  async #existing(file: MachineFile): Promise<ImportState['existing']> {
    const machine = file.machine.id
      ? await this.#store.source.getRepository(machineEntity).findOneBy({ id: file.machine.id })
      : null;
    if (!machine) return undefined;
    const changes: string[] = [];
    const conflicts: string[] = [];
    const compare = async <T>(id: string, name: string, fromFile: Parameters<typeof mergeKept<T>>[0], document: T) => {
      const revisions = await this.#store.source.getRepository(revisionEntity).findBy({ subjectId: id });
      const merge = mergeKept(fromFile, { document, revisions });
      changes.push(...changesBetween(document, merge.document).map((change) => `${name}: ${changeWords(change)}`));
      conflicts.push(...merge.conflicts.map(({ path }) => `${name}: ${fieldWords(path)}`));
    };
    await compare(machine.id, machine.name, file.machine, machine.document);
    for (const axis of file.axes) {
      const row = axis.id ? await this.#store.source.getRepository(axisEntity).findOneBy({ id: axis.id }) : null;
      if (row) await compare(row.id, row.name, axis, row.document);
      else changes.push(`${axis.document.name}: a new axis`);
    }
    return {
      name: machine.name,
      updatedAt: machine.updatedAt.toISOString(),
      changes: changes.slice(0, 200),
      conflicts: conflicts.slice(0, 200),
    };
  }

  /** Begins to take a checked file in. @throws ProblemError 409 when there is nothing to take, or it has been taken */
  take(id: string, wish: TakeInWish): ImportState | undefined {
    const entry = this.#imports.get(id);
    if (!entry) return undefined;
    const { file } = entry;
    if (entry.state.phase !== 'ready' || !file)
      throw new ProblemError(409, `This file cannot be taken in: it is ${entry.state.phase}.`);
    entry.state = { ...entry.state, phase: 'taking in', progress: 0 };
    void this.#inTurn(() => this.#takeIn(entry, file, wish)).catch((error: unknown) => this.#fail(entry, error));
    return entry.state;
  }

  async #takeIn(entry: Import, file: MachineFile, wish: TakeInWish): Promise<void> {
    let done = 0;
    const step = () => {
      entry.abort.signal.throwIfAborted();
      entry.state = { ...entry.state, progress: Math.min(0.99, ++done / Math.max(1, entry.state.runs)) };
    };
    const traces = entry.isArchive ? new TraceReader(entry.path) : undefined;
    try {
      const taken = await takeIn(
        this.#store,
        file,
        wish,
        (runId, axisUnit) => {
          if (!traces) throw new Error('only an archive has traces');
          return traces.read(runId, axisUnit);
        },
        step,
      );
      entry.state = { ...entry.state, phase: 'done', progress: 1, machineId: taken.machineId };
      this.#taken(taken, wish.author);
    } finally {
      await traces?.close();
      await rm(entry.path, { force: true });
    }
  }

  #fail(entry: Import, error: unknown): void {
    void rm(entry.path, { force: true });
    if (entry.abort.signal.aborted) return;
    console.error(error);
    entry.state = {
      ...entry.state,
      phase: 'refused',
      problems: [
        {
          pointer: '',
          detail:
            entry.state.phase === 'reading'
              ? 'The file could not be checked: it takes more memory or time than a machine file should. Nothing has changed.'
              : 'The file could not be taken in: the database did not keep it. Nothing has changed; try again.',
        },
      ],
    };
  }

  /** Breaks off. What has been begun is taken back. @returns false when there is no such import */
  async cancel(id: string): Promise<boolean> {
    const entry = this.#imports.get(id);
    if (!entry) return false;
    entry.abort.abort(new Error('cancelled'));
    entry.state = { ...entry.state, phase: 'cancelled' };
    await rm(entry.path, { force: true });
    return true;
  }

  async #forget(id: string): Promise<void> {
    await this.cancel(id);
    this.#imports.delete(id);
  }
}

/** Traces in the order in which they are asked for, which is mostly that of the archive: one pass, then lookups. */
class TraceReader {
  readonly #path: string;
  #pieces: ReturnType<typeof piecesOf>;

  constructor(path: string) {
    this.#path = path;
    this.#pieces = piecesOf(path);
  }

  async read(runId: string, axisUnit: string): Promise<Trace> {
    const described: unknown = JSON.parse((await this.#piece(`traces/${runId}.json`)).toString('utf8'));
    if (!isEarlierTrace(described))
      return { header: traceHeaderSchema.parse(described), samples: await this.#piece(`traces/${runId}.bin`) };
    const earlier = readEarlierTrace(described, axisUnit);
    if (earlier.kind === 'refused') throw new Error(earlier.because);
    return earlier.trace;
  }

  async #piece(name: string): Promise<Buffer> {
    for (let pass = 0; pass < 2; pass++) {
      for (let next = await this.#pieces.next(); !next.done; next = await this.#pieces.next())
        if (next.value.name === name) return next.value.read();
      this.#pieces = piecesOf(this.#path);
    }
    throw new Error(`the archive has no ${name} any more`);
  }

  async close(): Promise<void> {
    await this.#pieces.return(undefined);
  }
}

/** MB of memory within which a file has to be checked; more ends the process, not the server. */
const checkMemory = 1500;

function checkInProcess(path: string, signal: AbortSignal, progress: (share: number) => void): Promise<CheckedFile> {
  return new Promise((resolve, reject) => {
    const child = fork(join(import.meta.dirname, 'checkFileProcess.ts'), [path], {
      cwd: import.meta.dirname,
      execArgv: ['--import', 'tsx', `--max-old-space-size=${checkMemory}`],
      serialization: 'advanced',
      signal,
      killSignal: 'SIGKILL',
    });
    child.on('message', (message: { progress?: number; result?: CheckedFile }) => {
      if (message.progress !== undefined) progress(message.progress);
      if (message.result) resolve(message.result);
    });
    child.on('error', reject);
    child.on('exit', () => reject(new Error('the process that read the file has ended')));
  });
}
