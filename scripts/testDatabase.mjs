// Vitest's global set-up: a private database for the server's tests, gone when they end.
import { mkdirSync } from 'node:fs';

export async function setup(project) {
  process.env.KAVRID_VAR ??= 'var/vitest';
  const { freePort, privateDatabase } = await import('./database.mjs');
  const { varFolder } = await import('./setup.mjs');
  mkdirSync(varFolder, { recursive: true });
  const database = await privateDatabase(await freePort(), { forTests: true });
  const child = database.start();
  await database.ready(child);
  project.provide('databaseUrl', database.url);
  return async () => {
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await gone;
  };
}
