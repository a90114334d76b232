import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { AxisDocument, AxisRecord, MachineRecord, Problem, RevisionPage } from '@kavrid/contract';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { connectDatabase } from './database/connectDatabase.ts';
import { freePort } from './test/freePort.ts';
import { isProof, recordProof } from '@kavrid/bench/test/proof.ts';
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

/** The two processes of the server as `npm start` starts them. The one with the data is killed and started again. */
class ServerProcess {
  readonly #environment: NodeJS.ProcessEnv;
  readonly port: number;
  #port: ChildProcess | undefined;
  #data: ChildProcess | undefined;

  constructor(url: string, port: number) {
    const folder = mkdtempSync(join(tmpdir(), 'kavrid-sockets-'));
    this.port = port;
    this.#environment = {
      ...process.env,
      DATABASE_URL: url,
      PORT: String(port),
      PUBLIC_SOCKET: join(folder, 'data'),
      INTERNAL_SOCKET: join(folder, 'internal'),
    };
  }

  static async on(url: string): Promise<ServerProcess> {
    const server = new ServerProcess(url, await freePort());
    server.#port = await server.#run('server/main.ts', 'server listening');
    await server.start();
    return server;
  }

  async #run(file: string, ready: string): Promise<ChildProcess> {
    const child = spawn(process.execPath, ['--import', 'tsx', file], {
      env: this.#environment,
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    children.add(child);
    for await (const chunk of child.stdout) if (String(chunk).includes(ready)) break;
    child.stdout.resume();
    return child;
  }

  async start(): Promise<void> {
    this.#data = await this.#run('server/dataMain.ts', 'data listening');
  }

  async kill(): Promise<void> {
    if (this.#data) await end(this.#data, 'SIGKILL');
  }

  async end(): Promise<void> {
    await this.kill();
    if (this.#port) await end(this.#port, 'SIGKILL');
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

  /** Saves until told to end, or until a save is not answered. @param saved called after each that was */
  async run(isOver: () => boolean, saved: () => void = () => undefined): Promise<void> {
    while (!isOver()) {
      const number = this.acknowledged + 1;
      const document: AxisDocument = { ...this.axis.document, jogSpeed: number, notes: String(number) };
      const answer = await this.#server
        .ask<AxisRecord>('PUT', `/axes/${this.axis.id}`, { version: this.axis.version, author: 'w', document })
        .catch(() => undefined);
      if (answer?.status !== 200) return;
      this.axis = answer.body;
      this.acknowledged = number;
      saved();
    }
  }

  /** What is stored now must be at least what was acknowledged, whole, and a revision, with the one before it still there. */
  async check(): Promise<void> {
    const axis = await this.#server.patiently<AxisRecord>('GET', `/axes/${this.axis.id}`);
    const stored = Number(axis.document.notes);
    expect(axis.document.jogSpeed).toBe(stored);
    expect(stored).toBeGreaterThanOrEqual(this.acknowledged);
    // At most the one save that was under way and never answered.
    expect(stored).toBeLessThanOrEqual(this.acknowledged + 1);
    const { items } = await this.#server.patiently<RevisionPage>('GET', `/axes/${axis.id}/revisions?size=1`);
    expect(items[0]?.version).toBe(axis.version);
    const at = (version: number) => this.#server.patiently<AxisRecord>('GET', `/axes/${axis.id}/revisions/${version}`);
    expect((await at(axis.version)).document).toEqual(axis.document);
    if (axis.version > 1) expect((await at(axis.version - 1)).document.notes).toBe(String(stored - 1));
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

/** Lets the writers save, breaks something after so many saves, mends it and looks at what is there; many times. */
async function breakAgainAndAgain(
  writers: readonly Writer[],
  times: number,
  breakIt: () => Promise<void>,
  mend: () => Promise<void>,
): Promise<number> {
  for (let k = 0; k < times; k++) {
    let [isOver, left] = [false, 1 + ((k * 7) % 12)];
    let enough: () => void = () => undefined;
    const savedEnough = new Promise<void>((resolve) => (enough = resolve));
    const running = Promise.all(
      writers.map((writer) =>
        writer.run(
          () => isOver,
          () => --left === 0 && enough(),
        ),
      ),
    );
    await Promise.race([savedEnough, running]);
    await breakIt();
    isOver = true;
    await running;
    await mend();
    for (const writer of writers) await writer.check();
  }
  return writers.reduce((sum, writer) => sum + writer.acknowledged, 0);
}

const kills = isProof ? { server: 50, database: 20 } : { server: 4, database: 3 };

describe('a stream of saves', () => {
  it(
    'survives hard kills of the server: every acknowledged save is there, none is half there',
    { timeout: 600_000 },
    async () => {
      const server = await ServerProcess.on(await newDatabase());
      const writers = await writersOn(server, 3);
      const saves = await breakAgainAndAgain(
        writers,
        kills.server,
        () => server.kill(),
        () => server.start(),
      );
      expect(saves).toBeGreaterThan(kills.server);
      recordProof('hard kills of the server in a stream of saves', { kills: kills.server, saves });
      await server.end();
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

  it('killed hard during a stream of saves loses none either', { timeout: 600_000 }, async () => {
    await start();
    const server = await ServerProcess.on(database.url);
    const writers = await writersOn(server, 3);
    const saves = await breakAgainAndAgain(
      writers,
      kills.database,
      () => end(child, 'SIGKILL'),
      () => start(),
    );
    expect(saves).toBeGreaterThan(kills.database);
    recordProof('hard kills of the database in a stream of saves', { kills: kills.database, saves });
    await server.end();
  });

  it('that is full says so, loses nothing, and goes on once there is room', { timeout: 300_000 }, async () => {
    await end(child, 'SIGTERM');
    await start();
    const server = await ServerProcess.on(database.url);
    const [writer] = await writersOn(server, 1);
    if (!writer) throw new Error('no writer');
    await server.kill();
    await end(child, 'SIGTERM');
    await start(['--innodb-data-file-path=ibdata1:12M:autoextend:max:64M']);
    await server.start();
    await server.patiently('GET', '/health');
    const filler = await connectDatabase(database.url);
    for (const [index, size] of [200_000, 20_000, 2_000, 200].entries())
      for (let k = 0, isFull = false; k < 2000 && !isFull; k++)
        isFull = await filler
          .query('INSERT INTO revision VALUES (?, ?, NOW(), "", "", "", ?, 0, NULL)', [
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
    await writer.run(
      () => isOver,
      () => (isOver = true),
    );
    await writer.check();
    expect(writer.acknowledged).toBeGreaterThan(before);
    await server.end();
    await end(child, 'SIGTERM');
  });
});
