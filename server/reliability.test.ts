import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { AxisDocument, AxisRecord, MachineRecord, Problem, RevisionPage } from '@kavrid/contract';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { connectDatabase } from './database/connectDatabase.ts';
import { demoAxis, newDatabase } from './test/testServer.ts';

interface Database {
  readonly url: string;
  readonly start: (more?: readonly string[]) => ChildProcess;
  readonly ready: (child: ChildProcess) => Promise<void>;
}

const children = new Set<ChildProcess>();
const end = async (child: ChildProcess, signal: NodeJS.Signals) => {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = once(child, 'exit');
  child.kill(signal);
  await gone;
};
afterAll(async () => {
  for (const child of children) await end(child, 'SIGKILL');
});

/** The server as it is started by `npm start`. */
class ServerProcess {
  readonly port: number;
  readonly #url: string;
  #child: ChildProcess | undefined;

  constructor(url: string, port: number) {
    this.#url = url;
    this.port = port;
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
      env: { ...process.env, DATABASE_URL: this.#url, PORT: String(this.port) },
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    children.add(child);
    this.#child = child;
    for await (const chunk of child.stdout) if (String(chunk).includes('server listening')) break;
    child.stdout.resume();
  }

  async kill(): Promise<void> {
    if (this.#child) await end(this.#child, 'SIGKILL');
  }

  async ask<T>(method: string, path: string, body?: unknown): Promise<{ readonly status: number; readonly body: T }> {
    const answer = await fetch(`http://127.0.0.1:${this.port}/api${path}`, {
      method,
      signal: AbortSignal.timeout(15_000),
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    return { status: answer.status, body: (await answer.json()) as T };
  }

  async patiently<T>(method: string, path: string, body?: unknown): Promise<T> {
    for (const stop = Date.now() + 60_000; ; await pause(50)) {
      const answer = await this.ask<T>(method, path, body).catch(() => undefined);
      if (answer && answer.status < 300) return answer.body;
      if (Date.now() > stop) throw new Error(`${path} was not answered within a minute`);
    }
  }
}

/** Saves again and again; each save carries its number in two fields, so that half a save would show. */
class Writer {
  readonly #server: ServerProcess;
  axis: AxisRecord;
  acknowledged = 0;

  constructor(server: ServerProcess, axis: AxisRecord) {
    this.#server = server;
    this.axis = axis;
  }

  /** Saves until told to end, or until a save is not answered. */
  async run(isOver: () => boolean): Promise<void> {
    while (!isOver()) {
      const number = this.acknowledged + 1;
      const document: AxisDocument = { ...this.axis.document, jogSpeed: number, notes: String(number) };
      const answer = await this.#server
        .ask<AxisRecord>('PUT', `/axes/${this.axis.id}`, { version: this.axis.version, author: 'w', document })
        .catch(() => undefined);
      if (answer?.status !== 200) return;
      this.axis = answer.body;
      this.acknowledged = number;
    }
  }

  /** What is stored now must be at least what was acknowledged, whole, and the last of an unbroken row of revisions. */
  async check(): Promise<void> {
    const axis = await this.#server.patiently<AxisRecord>('GET', `/axes/${this.axis.id}`);
    const stored = Number(axis.document.notes);
    expect(axis.document.jogSpeed).toBe(stored);
    expect(stored).toBeGreaterThanOrEqual(this.acknowledged);
    // At most the one save that was under way and never answered.
    expect(stored).toBeLessThanOrEqual(this.acknowledged + 1);
    const { total, items } = await this.#server.patiently<RevisionPage>('GET', `/axes/${axis.id}/revisions?size=1`);
    expect([total, items[0]?.version]).toEqual([axis.version, axis.version]);
    const newest = await this.#server.patiently<AxisRecord>('GET', `/axes/${axis.id}/revisions/${axis.version}`);
    expect(newest.document).toEqual(axis.document);
    this.axis = axis;
    this.acknowledged = stored;
  }
}

async function writersOn(server: ServerProcess, many: number): Promise<readonly Writer[]> {
  const document = { name: 'Stress', notes: '', tags: [], archived: false };
  const machine = await server.patiently<MachineRecord>('POST', '/machines', { author: 'w', document });
  const axes = [];
  for (let k = 0; k < many; k++) {
    const start = { ...demoAxis, jogSpeed: 1, notes: '1' };
    axes.push(
      await server.patiently<AxisRecord>('POST', `/machines/${machine.id}/axes`, { author: 'w', document: start }),
    );
  }
  return axes.map((axis) => Object.assign(new Writer(server, axis), { acknowledged: 1 }));
}

/** Lets the writers save, breaks something in the midst of it, mends it and looks at what is there; many times. */
async function breakAgainAndAgain(
  writers: readonly Writer[],
  times: number,
  breakIt: () => Promise<void>,
  mend: () => Promise<void>,
): Promise<number> {
  for (let k = 0; k < times; k++) {
    let isOver = false;
    const running = writers.map((writer) => writer.run(() => isOver));
    await pause(20 + ((k * 37) % 150));
    await breakIt();
    isOver = true;
    await Promise.all(running);
    await mend();
    for (const writer of writers) await writer.check();
  }
  return writers.reduce((sum, writer) => sum + writer.acknowledged, 0);
}

describe('a stream of saves', () => {
  it(
    'survives 50 hard kills of the server: every acknowledged save is there, none is half there',
    { timeout: 600_000 },
    async () => {
      const server = new ServerProcess(await newDatabase(), 4791);
      await server.start();
      const writers = await writersOn(server, 3);
      const saves = await breakAgainAndAgain(
        writers,
        50,
        () => server.kill(),
        () => server.start(),
      );
      expect(saves).toBeGreaterThan(100);
      await server.kill();
    },
  );
});

describe('a database of its own', () => {
  let database: Database;
  let child: ChildProcess;
  beforeAll(async () => {
    vi.stubEnv('KAVRID_VAR', mkdtempSync(join(tmpdir(), 'kavrid-var-')));
    vi.resetModules();
    // A path in a variable: the script has no types, and its ways are told here.
    const script = '../scripts/database.mjs';
    const { freePort, privateDatabase } = (await import(script)) as {
      freePort: () => Promise<number>;
      privateDatabase: (port: number) => Promise<Database>;
    };
    database = await privateDatabase(await freePort());
  }, 120_000);
  const start = async (more: readonly string[] = []) => {
    // All tables in one file, so that a bound on that file is a full disk.
    child = database.start(['--innodb-file-per-table=0', '--innodb-autoextend-increment=1', ...more]);
    children.add(child);
    await database.ready(child);
  };

  it('killed hard 20 times during a stream of saves loses none either', { timeout: 600_000 }, async () => {
    await start();
    const server = new ServerProcess(database.url, 4792);
    await server.start();
    const writers = await writersOn(server, 3);
    const saves = await breakAgainAndAgain(
      writers,
      20,
      () => end(child, 'SIGKILL'),
      () => start(),
    );
    expect(saves).toBeGreaterThan(100);
    await server.kill();
  });

  it('that is full says so, loses nothing, and goes on once there is room', { timeout: 300_000 }, async () => {
    await end(child, 'SIGTERM');
    await start();
    const server = new ServerProcess(database.url, 4793);
    await server.start();
    const [writer] = await writersOn(server, 1);
    if (!writer) throw new Error('no writer');
    await server.kill();
    await end(child, 'SIGTERM');
    await start(['--innodb-data-file-path=ibdata1:12M:autoextend:max:64M']);
    await server.start();
    const filler = await connectDatabase(database.url);
    for (const [index, size] of [200_000, 20_000, 2_000, 200].entries())
      for (let k = 0, isFull = false; k < 2000 && !isFull; k++)
        isFull = await filler
          .query('INSERT INTO revision VALUES (?, ?, NOW(), "", "", "", ?)', [
            'ballast',
            10_000 * index + k,
            JSON.stringify('x'.repeat(size)),
          ])
          .then(
            () => false,
            () => true,
          );
    let refused: { status: number; body: Problem } | undefined;
    for (let k = 0; k < 400 && !refused; k++) {
      const number = writer.acknowledged + 1;
      const document = { ...writer.axis.document, jogSpeed: number, notes: String(number), plusEnd: 'x'.repeat(80) };
      const answer = await server.ask<AxisRecord>('PUT', `/axes/${writer.axis.id}`, {
        version: writer.axis.version,
        author: 'w',
        document,
      });
      if (answer.status === 200) {
        writer.axis = answer.body;
        writer.acknowledged = number;
      } else refused = answer as unknown as { status: number; body: Problem };
    }
    expect(refused).toMatchObject({ status: 507, body: { title: 'The database cannot write.' } });
    await writer.check();
    await filler.destroy();
    await server.kill();
    await end(child, 'SIGTERM');
    await start();
    await server.start();
    let isOver = false;
    const before = writer.acknowledged;
    const running = writer.run(() => isOver);
    await pause(300);
    isOver = true;
    await running;
    await writer.check();
    expect(writer.acknowledged).toBeGreaterThan(before);
    await server.kill();
    await end(child, 'SIGTERM');
  });
});
