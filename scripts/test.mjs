// `npm test`: sets up what is missing, then format, linter, types, unit tests with a private database, build, and end to end.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root, setUp } from './setup.mjs';

process.env.KAVRID_VAR ??= join(root, 'var', 'test');
setUp({ forTests: true });

const bin = (name) => join(root, 'node_modules', '.bin', name);
const steps = [
  ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
  ['linter', bin('eslint'), ['.', '--max-warnings', '0']],
  ['types', bin('tsc'), ['-b']],
  ['unit tests', bin('vitest'), ['run']],
  ['end to end', bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts']],
];
const only = process.argv[2];
for (const [name, program, words] of steps.filter(([name]) => !only || name.startsWith(only))) {
  const began = Date.now();
  console.log(`\n== ${name}`);
  const result = spawnSync(program, words, { cwd: root, stdio: 'inherit', env: process.env });
  if (result.status !== 0) {
    console.error(`\n${name} failed.`);
    process.exit(1);
  }
  console.log(`== ${name}: good (${((Date.now() - began) / 1000).toFixed(0)} s)`);
}
console.log('\nAll good.');
