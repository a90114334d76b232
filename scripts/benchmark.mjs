// `npm run benchmark`: prints a table of what docs/design budgets; never fails a run.
import { spawnSync } from 'node:child_process';
import { buildWeb } from './build.mjs';
import { root, setUp } from './setup.mjs';

setUp({ forTests: true });
buildWeb();
for (const words of [
  ['--import', 'tsx', 'scripts/benchmark/run.ts'],
  ['scripts/benchmark/browser.mjs'],
  ['--import', 'tsx', 'scripts/benchmark/api.ts'],
  ['--import', 'tsx', 'scripts/benchmark/link.ts'],
])
  spawnSync(process.execPath, words, { cwd: root, stdio: 'inherit' });
