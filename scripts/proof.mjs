// `npm run proof`: the full counts of what `npm test` samples (kills, fuzz, interleavings, random worlds), written to docs/reliability.md.
// `npm run proof -- FILE` runs part of it and writes nothing.
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildWeb } from './build.mjs';
import { giveUp, main, root, setUp, varFolder } from './setup.mjs';

const only = process.argv[2];
/** The tests that sample in `npm test` and count in full here. */
const counted = [
  'server/reliability',
  'server/database/revisions',
  'server/fuzz',
  'server/port/interleavings',
  'server/port/moveEnds',
  'server/port/faultyLines',
  'server/port/faultyProxy',
  'server/port/firstPower.test',
  'server/port/firstPowerDevices',
  'server/port/shownGuide',
  'web/test/views',
  'bench/host',
  'bench/benchFuzz',
  'bench/homing',
  'core/tuning',
];
const seed = process.env.KAVRID_PROOF_SEED ?? '20261127';
const figuresFile = join(varFolder, 'proof.jsonl');
const page = join(root, 'docs', 'reliability.md');
const [begin, end] = ['<!-- proof: begin -->', '<!-- proof: end -->'];

await main(() => {
  setUp({ forTests: true });
  rmSync(figuresFile, { force: true });
  writeFileSync(figuresFile, '');
  const began = Date.now();
  const result = spawnSync(
    join(root, 'node_modules', '.bin', 'vitest'),
    ['run', ...(only === undefined ? counted : [only])],
    {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, KAVRID_PROOF: '1', KAVRID_PROOF_SEED: seed, KAVRID_PROOF_FILE: figuresFile },
    },
  );
  if (result.status !== 0) giveUp('the proof failed', 'look at the messages above');
  if (only === undefined) {
    buildWeb();
    const walked = spawnSync(
      join(root, 'node_modules', '.bin', 'playwright'),
      ['test', '--config', 'e2e/playwright.config.ts', 'commands', 'signals'],
      { cwd: root, stdio: 'inherit', env: { ...process.env, KAVRID_PROOF: '1' } },
    );
    if (walked.status !== 0) giveUp('the proof failed end to end', 'look at the messages above');
  }
  const figures = readFileSync(figuresFile, 'utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line));
  const minutes = ((Date.now() - began) / 60_000).toFixed(0);
  const isNaming = ({ name }) => name.startsWith('first power, ');
  const table = [
    `Last run on ${new Date().toISOString().slice(0, 10)} with seed ${seed}, ${minutes} min on two cores.`,
    '',
    '| what | figures |',
    '|---|---|',
    ...figures
      .filter((each) => !isNaming(each))
      .sort((a, b) => a.name.localeCompare(b.name))
      .map(
        ({ name, figures: of }) =>
          `| ${name} | ${Object.entries(of)
            .map(([what, value]) => `${what}: ${value}`)
            .join('; ')} |`,
      ),
    '',
    'Faults of the bench in 20 random worlds each, and what the first power named first:',
    '',
    '| fault | right cause | first | among the first two | named instead |',
    '|---|---|---|---|---|',
    ...figures
      .filter(isNaming)
      .sort((a, b) => a.name.localeCompare(b.name))
      .map(
        ({ name, figures: of }) =>
          `| ${name.slice('first power, '.length)} | ${of.cause} | ${of.first} | ${of['first two']} | ${of.instead} |`,
      ),
  ].join('\n');
  console.log(`\n${table}\n`);
  if (only !== undefined) return;
  const text = readFileSync(page, 'utf8');
  const [from, to] = [text.indexOf(begin), text.indexOf(end)];
  if (from < 0 || to < 0) giveUp('docs/reliability.md has no place for the figures', `put ${begin} and ${end} there`);
  writeFileSync(page, `${text.slice(0, from + begin.length)}\n\n${table}\n\n${text.slice(to)}`);
});
