// `npm run benchmark`: prints a table of what docs/design budgets; never fails a run.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root, setUp } from './setup.mjs';

setUp();
spawnSync(process.execPath, ['--import', 'tsx', join(root, 'scripts', 'benchmark', 'run.ts')], {
  cwd: root,
  stdio: 'inherit',
});
