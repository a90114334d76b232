// `npm test`: sets up what is missing, then format, linter, types, unit tests with a private database, build, and end to end.
// `node scripts/test.mjs unit` runs the parts whose name begins so.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildWeb } from './build.mjs';
import { giveUp, main, root, setUp } from './setup.mjs';

process.env.KAVRID_VAR ??= join(root, 'var', 'test');

const bin = (name) => join(root, 'node_modules', '.bin', name);
/** Those of one stage run side by side. */
const stages = [
  [
    ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
    ['linter', bin('eslint'), ['.', '--max-warnings', '0']],
    ['types', bin('tsc'), ['-b']],
    ['circles', bin('depcruise'), ['core', 'contract', 'bench', 'server', 'web']],
  ],
  [['unit tests', bin('vitest'), ['run']]],
  [['end to end', bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts']]],
];
const names = stages.flat().map(([name]) => name);
const only = process.argv[2];
const isChosen = ([name]) => only === undefined || name.startsWith(only);

function run([name, program, words], isAlone) {
  const since = Date.now();
  if (isAlone) console.log(`\n== ${name}`);
  return new Promise((resolve) => {
    const child = spawn(program, words, {
      cwd: root,
      stdio: isAlone ? 'inherit' : ['ignore', 'pipe', 'pipe'],
      env: process.env,
    });
    let text = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (data) => (text += data));
    child.on('close', (code) => {
      if (text) console.log(`\n== ${name}\n${text}`);
      if (code === 0) console.log(`== ${name}: good (${((Date.now() - since) / 1000).toFixed(0)} s)`);
      resolve(code === 0 ? [] : [name]);
    });
  });
}

await main(async () => {
  if (!stages.flat().some(isChosen))
    giveUp(`there is no part “${only}”`, `name one of these, or its beginning: ${names.join(', ')}`);
  setUp({ forTests: true });
  const began = Date.now();
  for (const stage of stages) {
    const chosen = stage.filter(isChosen);
    // Once, before two apps are started on it.
    if (chosen.some(([name]) => name === 'end to end')) buildWeb();
    const failed = (await Promise.all(chosen.map((step) => run(step, chosen.length === 1)))).flat();
    if (failed.length > 0) giveUp(`${failed.join(' and ')} failed`, 'look at the messages above');
  }
  const what = only === undefined ? 'All' : names.filter((name) => isChosen([name])).join(', ');
  console.log(`\n${what} good (${((Date.now() - began) / 1000).toFixed(0)} s).`);
});
