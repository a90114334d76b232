// Builds the web application when its sources have changed since the last build.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { giveUp, root, say } from './setup.mjs';

function fingerprint() {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const folder of ['core', 'contract', 'web']) {
    for (const entry of readdirSync(join(root, folder), { recursive: true, withFileTypes: true })) {
      const path = join(entry.parentPath, entry.name);
      if (!entry.isFile() || /node_modules|\/dist[./]|\.types|\.tsbuildinfo|\.test\./.test(path)) continue;
      hash.update(path.slice(root.length)).update(readFileSync(path));
    }
  }
  return hash.digest('hex');
}

export function buildWeb() {
  const mark = join(root, 'web', 'dist', '.built');
  const wanted = fingerprint();
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  say('Building the web application …');
  // Made beside and put in place when it is whole, since another start may do the same.
  const [made, place] = [`dist.${process.pid}`, join(root, 'web', 'dist')];
  const result = spawnSync(
    process.execPath,
    [join(root, 'node_modules', 'vite', 'bin', 'vite.js'), 'build', '--logLevel', 'warn', '--outDir', made],
    {
      cwd: join(root, 'web'),
      stdio: ['ignore', 'inherit', 'inherit'],
    },
  );
  if (result.status !== 0) giveUp('the web application could not be built', 'look at the messages above');
  writeFileSync(join(root, 'web', made, '.built'), wanted);
  rmSync(place, { recursive: true, force: true });
  renameSync(join(root, 'web', made), place);
}
