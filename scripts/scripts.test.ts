import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { describe, expect, it, vi } from 'vitest';

interface Database {
  readonly url: string;
  readonly port: number;
  readonly start: () => ChildProcess;
  readonly ready: (child: ChildProcess) => Promise<void>;
}
interface Processes {
  readonly endLeftovers: () => Promise<void>;
  readonly processMark: (pid: number) => { readonly pid: number; readonly begun: string } | undefined;
  readonly runningState: () => unknown;
  readonly startAlone: () => () => void;
}

const root = join(import.meta.dirname, '..');
/** What a script says when it is started with these settings; it has to give up at once. */
const says = (words: readonly string[], env: NodeJS.ProcessEnv = {}) => {
  const { stdout, stderr, status } = spawnSync(process.execPath, words, {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, ...env },
  });
  return { text: stdout + stderr, status };
};
/** The scripts in a var folder of their own. Their path stands in a variable: they have no types. */
const inFolder = async <T>(script: string, folder: string): Promise<T> => {
  vi.stubEnv('KAVRID_VAR', folder);
  vi.resetModules();
  return (await import(script)) as T;
};
const newFolder = (name: string) => mkdtempSync(join(tmpdir(), name));

describe('the scripts give up in a sentence', () => {
  it.each<[string, string[], NodeJS.ProcessEnv, RegExp]>([
    ['a part of the tests that is not there', ['scripts/test.mjs', 'unti'], {}, /no part “unti”/],
    ['a port that is no number', ['scripts/start.mjs'], { PORT: 'abc' }, /PORT is “abc”/],
    ['a port beyond the last', ['scripts/start.mjs'], { PORT: '70000' }, /PORT is “70000”/],
    ['a bench port that is none', ['scripts/bench.mjs'], { BENCH_PORT: '0' }, /BENCH_PORT is “0”/],
    [
      'a folder that cannot be written',
      ['scripts/start.mjs'],
      { KAVRID_VAR: '/dev/null/kavrid', PORT: '4799' },
      /folder \/dev\/null\/kavrid cannot be written/,
    ],
    ['a file to restore that is not there', ['scripts/backup.mjs', 'restore', '/nowhere'], {}, /no file \/nowhere/],
  ])('%s', (_, words, env, expected) => {
    const { text, status } = says(words, env);
    expect(text).toMatch(expected);
    expect(text).toContain('What to do:');
    expect(text).not.toMatch(/ at .*:\d+:\d+/);
    expect(status).toBe(1);
  });
});

describe('processes', () => {
  it('an empty or foreign state file ends nobody, and neither does a number that another process has got', async () => {
    const folder = newFolder('kavrid-stale-');
    const state = join(folder, 'running.json');
    const { endLeftovers, processMark, runningState } = await inFolder<Processes>('./processes.mjs', folder);
    for (const text of ['', '{', 'null', '{"supervisor":{"pid":1}}']) {
      writeFileSync(state, text);
      expect(runningState()).toBeUndefined();
      await endLeftovers();
    }
    const bystander = spawn(process.execPath, ['-e', 'setInterval(() => 0, 1000)']);
    const left = spawn(process.execPath, ['-e', 'setInterval(() => 0, 1000)']);
    const gone = new Promise((resolve) => left.once('exit', resolve));
    const children = {
      stale: { pid: bystander.pid, begun: '1' },
      left: processMark(left.pid ?? 0),
    };
    writeFileSync(state, JSON.stringify({ supervisor: { pid: 1, begun: 'x' }, children }));
    await endLeftovers();
    await gone;
    expect(bystander.exitCode).toBeNull();
    bystander.kill();
    expect(existsSync(state)).toBe(false);
  });

  it('of two starts on one folder one goes on; a lock that a dead one left is taken', async () => {
    const folder = newFolder('kavrid-lock-');
    const { startAlone } = await inFolder<Processes>('./processes.mjs', folder);
    const letGo = startAlone();
    expect(() => startAlone()).toThrow(/another start of Kavrid .* is under way/);
    letGo();
    writeFileSync(join(folder, 'starting.lock'), JSON.stringify({ pid: 1, begun: 'long ago' }));
    startAlone()();
  });
});

describe('the database', () => {
  it('knows one account, with a password, on a folder with a blank and on data that knew others', async () => {
    const folder = join(newFolder('kavrid-db-'), 'with a blank');
    mkdirSync(folder);
    const { freePort, privateDatabase } = await inFolder<{
      freePort: () => Promise<number>;
      privateDatabase: (port: number) => Promise<Database>;
    }>('./database.mjs', folder);
    const database = await privateDatabase(await freePort());
    const running = async (work: () => Promise<void>) => {
      const child = database.start();
      await database.ready(child);
      await work();
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await gone;
    };
    const refused = async (user: string, password = '') => {
      const connecting = createConnection({ host: '127.0.0.1', port: database.port, user, password });
      await expect(connecting).rejects.toThrow(/Access denied|not allowed/);
    };
    await running(async () => {
      for (const user of ['root', 'mysql', '', 'mariadb.sys', 'kavrid']) await refused(user);
      const own = await createConnection(database.url);
      for (const forbidden of ['SELECT * FROM mysql.global_priv', 'CREATE DATABASE other', 'CREATE USER x', 'SHUTDOWN'])
        await expect(own.query(forbidden)).rejects.toThrow(/denied/);
      await own.query('CREATE TABLE t (a INT)');
      await own.end();
    });
    // Again, on what is there by now.
    await running(async () => {
      await refused('root');
      const own = await createConnection(database.url);
      await own.query('SELECT a FROM t');
      await own.end();
    });
  });
});
