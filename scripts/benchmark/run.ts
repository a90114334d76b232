import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import {
  axesAmong,
  machineFileSchema,
  axisInputOf,
  packSamples,
  spindleInputOf,
  spindlesAmong,
  type AxisDocument,
} from '../../contract/index.ts';
import { bestFraction, evaluateAxis, gearCandidates, stationsOf, type GearLimits } from '../../core/chain/index.ts';
import { findingsOf, spindleFindingsOf } from '../../core/findings/index.ts';
import { repeatability } from '../../core/homing/index.ts';
import { planMove } from '../../core/motion/index.ts';
import { advanceServo, servoCoefficients, servoState, type ServoDefinition } from '../../core/plant/index.ts';
import { evaluateSpindle } from '../../core/spindle/index.ts';
import { rational } from '../../core/quantity/index.ts';
import { PulseTrain, pulseTrainToVcd } from '../../core/signal/index.ts';
import { prepareMoves, viewMoves } from '../../web/jobs/moveJob.ts';
import { shownUnits } from '../../web/ui/units.ts';
import { runSpindleTest } from '../../web/jobs/spindleRunJob.ts';
import { thinTrace } from '../../web/jobs/thinTrace.ts';
import { ReadChannels, viewTraces } from '../../web/jobs/traceJob.ts';

const root = join(import.meta.dirname, '..', '..');
const demo = machineFileSchema.parse(JSON.parse(readFileSync(join(root, 'demo/tile-glazing-cell.json'), 'utf8')));
const axes = axesAmong(demo.axes);
const [axis] = axes;
if (!axis) throw new Error('the demo has no axis');

/** Best of several rounds, in seconds a call: what the code costs when nothing else disturbs it. */
function best(rounds: number, calls: number, work: (k: number) => unknown): number {
  let least = Infinity;
  for (let round = 0; round < rounds; round++) {
    const began = performance.now();
    for (let k = 0; k < calls; k++) work(k);
    least = Math.min(least, (performance.now() - began) / 1e3 / calls);
  }
  return least;
}
const rows: (readonly [string, string, string])[] = [];
const row = (what: string, budget: string, got: string) => rows.push([what, budget, got]);
const us = (seconds: number) => `${(seconds * 1e6).toFixed(1)} µs`;
const ms = (seconds: number) => `${(seconds * 1e3).toFixed(2)} ms`;

const servo: ServoDefinition = {
  stepRate: 8000,
  countsPerRevolution: 2 ** 20,
  gearNumerator: 12288,
  gearDenominator: 125,
  rotorInertia: 1.6e-4,
  loadInertia: 2.4e-3,
  stages: [
    { efficiency: 0.95, backDriveEfficiency: 0.94, inertia: 1e-4 },
    { efficiency: 0.96, backDriveEfficiency: 0.95, inertia: 2e-5 },
  ],
  stiffness: 60,
  damping: 0.02,
  coulombFriction: 0.8,
  viscousFriction: 0.0006,
  gravityTorque: 0.2,
  ratedTorque: 2.39,
  peakTorque: 7.16,
  torqueLimit: 1.5,
  torqueTimeConstant: 0.0005,
  positionGain: 40,
  speedBandwidth: 260,
  speedIntegralTime: 0.02,
  assumedInertiaRatio: 14,
  velocityFeedforward: 0.85,
  accelerationFeedforward: 0.5,
  torqueFilterTime: 0.0005,
  notch: { frequency: 600, width: 0.6, depth: 0.1 },
  velocityFilterTime: 0.0003,
  followingErrorWindow: 1e9,
  minusLimit: -1e15,
  plusLimit: 1e15,
  indexOffset: 0,
};
const c = servoCoefficients(servo);
const s = servoState(0, servo.countsPerRevolution);
const stretch = 8192;
const command = [1, -1].map((sign) => Float64Array.from({ length: stretch }, (_, k) => sign * (k % 25)));
const run = (rounds: number) =>
  best(rounds, 2, (k) => advanceServo(c, s, command[k] as Float64Array, stretch)) / stretch;
run(500);
const heapBefore = process.memoryUsage().heapUsed;
run(3000);
const grown = process.memoryUsage().heapUsed - heapBefore;
const stretches = [...c.towardsPlus, '/', ...c.towardsMinus].map((each) => (each === Infinity ? 'inf' : String(each)));
const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] ?? NaN;
let reference: string;
const folder = mkdtempSync(join(tmpdir(), 'kavrid-'));
try {
  const program = join(folder, 'plant');
  execFileSync('gcc', ['-O2', '-o', program, join(root, 'scripts/benchmark/plant.c'), '-lm'], { stdio: 'pipe' });
  // Both languages in turn, each the best of many short stretches: other users of the computer disturb long ones.
  const pairs = Array.from({ length: 15 }, () => ({
    theirs: Number(execFileSync(program, stretches, { encoding: 'utf8' }).split(' ')[0]),
    ours: run(400) * 1e9,
  }));
  const [ours, theirs] = [middle(pairs.map((each) => each.ours)), middle(pairs.map((each) => each.theirs))];
  const ratio = middle(pairs.map((each) => each.theirs / each.ours));
  reference = `${ratio.toFixed(2)}, median of 15 pairs (${ours.toFixed(1)} ns against ${theirs.toFixed(1)} ns in C)`;
} catch {
  reference = `${(run(3000) * 1e9).toFixed(1)} ns a step; no gcc here to compare with`;
} finally {
  rmSync(folder, { recursive: true });
}
row('servo plant, all effects on: speed over C -O2', '≥ 0.85', reference);
row('heap grown over 50 million steps', 'none', `${Math.max(0, grown / 1024).toFixed(0)} kB`);

const limits: GearLimits = {
  numeratorMax: 2147483647n,
  denominatorMax: 2147483647n,
  ratioMin: rational(1, 1000),
  ratioMax: rational(64000),
};
const targets = Array.from({ length: 200 }, (_, k) =>
  rational(314159265358979323n + BigInt(k) * 7919n, 100000000000000000n + BigInt(k) * 104729n),
);
row(
  'best fraction under 2³¹ limits',
  '20 µs',
  us(best(20, 2000, (k) => bestFraction(targets[k % 200] ?? rational(1), limits))),
);
row(
  'whole list of candidates',
  '200 µs',
  us(best(20, 1000, (k) => gearCandidates(targets[k % 200] ?? rational(1), limits))),
);

/** A sheet with its stations and findings, after one edit and the next. */
function editing(documents: readonly AxisDocument[]): number {
  let previous: ReturnType<typeof evaluateAxis> | undefined;
  return best(10, 300, (k) => {
    const { input } = axisInputOf(documents[k % documents.length] ?? axis);
    const results = (previous = evaluateAxis(input, previous));
    const { quantity } = shownUnits(input, 'metric');
    return findingsOf({ input, results, stations: stationsOf(input, results), quantity });
  });
}
const teeth = ['31', '32', '33'].map((each) => ({
  ...axis,
  stages: axis.stages.map((stage) => (stage.kind === 'beltDrive' ? { ...stage, teeth: each } : stage)),
}));
row('sheet, stations and findings after an edit', '2 ms', ms(editing(teeth)));
for (const document of axes) {
  if (document.command.kind !== 'analog' && document.command.kind !== 'pwm' && document.command.kind !== 'choice')
    continue;
  const { command } = document;
  const edited = ['2000 rpm', '2500 rpm', '3000 rpm'].map((value) => ({
    ...document,
    command:
      'to' in command
        ? { ...command, to: { ...command.to, value } }
        : { ...command, skew: Number.parseInt(value) / 1e6 },
  }));
  row(`… of the ${document.name.toLowerCase()} (${command.kind})`, '2 ms', ms(editing(edited)));
}
const long = { ...axis, testMove: { ...axis.testMove, dwell: 0.18, repeats: 4 } };
row(
  'predicted test move of 10 s, with thinning',
  '20 ms',
  ms(best(10, 1, () => viewMoves(prepareMoves({ axis: long, measured: undefined }), { points: 400 }))),
);
const looped = axes.find(({ command }) => command.kind === 'analog');
if (looped)
  row(
    '… with the position loop in the controller',
    '20 ms',
    ms(best(10, 1, () => viewMoves(prepareMoves({ axis: looped, measured: undefined }), { points: 400 }))),
  );
const [spindle] = spindlesAmong(demo.axes);
if (!spindle) throw new Error('the demo has no spindle');
let sheet: ReturnType<typeof evaluateSpindle> | undefined;
const bases = [50, 55, 60].map((baseHertz) => ({ ...spindle, settings: { ...spindle.settings, baseHertz } }));
row(
  '… of the edge grinder (spindle)',
  '2 ms',
  ms(
    best(10, 300, (k) => {
      const { input } = spindleInputOf(bases[k % 3] ?? spindle);
      sheet = evaluateSpindle(input, sheet);
      return spindleFindingsOf({ input, results: sheet });
    }),
  ),
);
const minuteTest = { ...spindle, runTest: { ...spindle.runTest, duration: 60 } };
row('predicted run test of a spindle, 60 s', '300 ms', ms(best(10, 1, () => runSpindleTest({ spindle: minuteTest }))));
row(
  '1000 homings by the event model',
  '1 s',
  ms(
    best(10, 1, () =>
      repeatability({
        definition: { method: 1, searchSpeed: 120, creepSpeed: 12, acceleration: 1000, positionAtHome: 0 },
        world: { start: 900, minusEdge: 0, indexSpacing: 106.67, indexAt: 40, scanPeriod: 0.001 },
        switchScatter: 0.05,
        runs: 1000,
        seed: 1,
      }),
    ),
  ),
);
const longChannels = ['demandPosition', 'actualPosition', 'followingError', 'torque'];
const traceOf = (planes: readonly Float64Array[]) => {
  const channels = longChannels.map((id) => ({ id, label: id, unit: '', scale: 1, format: 'float64' as const }));
  const header = { period: 0.001, count: planes[0]?.length ?? 0, channels };
  return { id: 'long', trace: { header, samples: packSamples(channels, planes) } };
};
const million = Array.from({ length: 4 }, (_, channel) =>
  Float64Array.from({ length: 1_000_000 }, (_, k) => Math.sin(k / (1000 + channel))),
);
row(
  'trace of 1 million samples × 4 channels, thinned',
  '10 ms',
  ms(best(10, 1, () => million.map((channel) => thinTrace(channel, 0.001, 800)))),
);
const longTrace = traceOf(million);
const readLong = new ReadChannels();
const panned = (window: readonly [number, number] | undefined) =>
  viewTraces(
    [longTrace],
    { channels: longChannels, over: 'time', window, trigger: undefined, cursors: [1, 2], points: 1800 },
    readLong,
  );
panned(undefined);
row(
  '… panned and zoomed by the worker of the trace page',
  '10 ms',
  ms(best(10, 1, () => [panned(undefined), panned([100, 900])]) / 2),
);

// A minute at 4 MHz into a sink that only counts.
const minute = new PulseTrain(planMove(6000, { speed: 100, acceleration: 10000 }), 40000);
let [bytes, largest] = [0, 0];
const began = performance.now();
for (const { bytes: piece } of pulseTrainToVcd({
  train: minute,
  form: 'stepDirection',
  isMinus: false,
  pulseWidth: 1e-7,
  from: 0,
  to: 61,
})) {
  bytes += piece.length;
  largest = Math.max(largest, piece.length);
}
row(
  `pulse train of a minute at 4 MHz, ${minute.count / 1e6} million pulses, as VCD`,
  'bounded memory',
  `${((performance.now() - began) / 1000).toFixed(0)} s, ${(bytes / 1e9).toFixed(1)} GB in pieces of ${(largest / 1024).toFixed(0)} kB`,
);

const assets = join(root, 'web', 'dist', 'assets');
if (existsSync(assets)) {
  const html = readFileSync(join(root, 'web', 'dist', 'index.html'), 'utf8');
  const first = readdirSync(assets).filter((name) => name.endsWith('.js') && html.includes(name));
  const size = first.reduce((sum, name) => sum + gzipSync(readFileSync(join(assets, name))).length, 0);
  row('script of the first view, gzipped', '220 kB', `${(size / 1000).toFixed(0)} kB`);
}

console.log(`| what | budget | measured |\n|---|---|---|\n${rows.map((each) => `| ${each.join(' | ')} |`).join('\n')}`);
