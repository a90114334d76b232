// Vitest's global set-up: a private database and a folder for temporary files of the server's tests, gone when they end.
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export async function setup(project) {
  process.env.KAVRID_VAR ??= 'var/vitest';
  const { freePort, privateDatabase } = await import('./database.mjs');
  const { varFolder } = await import('./setup.mjs');
  mkdirSync(varFolder, { recursive: true });
  const database = await privateDatabase(await freePort(), { forTests: true });
  const child = database.start();
  await database.ready(child);
  project.provide('databaseUrl', database.url);
  const temporary = mkdtempSync(join(tmpdir(), 'kavrid-tests-'));
  process.env.TMPDIR = temporary;
  return async () => {
    rmSync(temporary, { recursive: true, force: true });
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await gone;
  };
}
