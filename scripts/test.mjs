// `npm test`: sets up what is missing, then format, linter, types, unit tests with a private database, build, and end to end.
// `node scripts/test.mjs unit` runs the parts whose name begins so.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { giveUp, main, root, setUp } from './setup.mjs';

process.env.KAVRID_VAR ??= join(root, 'var', 'test');

const bin = (name) => join(root, 'node_modules', '.bin', name);
const steps = [
  ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
  ['linter', bin('eslint'), ['.', '--max-warnings', '0']],
  ['types', bin('tsc'), ['-b']],
  ['unit tests', bin('vitest'), ['run']],
  ['end to end', bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts']],
];
const only = process.argv[2];
const chosen = steps.filter(([name]) => only === undefined || name.startsWith(only));

await main(() => {
  if (chosen.length === 0)
    giveUp(
      `there is no part “${only}”`,
      `name one of these, or its beginning: ${steps.map(([name]) => name).join(', ')}`,
    );
  setUp({ forTests: true });
  const began = Date.now();
  for (const [name, program, words] of chosen) {
    const since = Date.now();
    console.log(`\n== ${name}`);
    const result = spawnSync(program, words, { cwd: root, stdio: 'inherit', env: process.env });
    if (result.status !== 0) giveUp(`${name} failed`, 'look at the messages above');
    console.log(`== ${name}: good (${((Date.now() - since) / 1000).toFixed(0)} s)`);
  }
  console.log(
    `\n${only === undefined ? 'All' : chosen.map(([name]) => name).join(', ')} good (${((Date.now() - began) / 1000).toFixed(0)} s).`,
  );
});
