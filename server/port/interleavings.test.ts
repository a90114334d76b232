import fc from 'fast-check';
import type { SessionMessage } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis, demoSpindle } from '../test/demoMembers.ts';
import { isMotionWord, simulatedDrive, type Misbehaviour, type SimulatedDrive } from '../test/simulatedDrive.ts';
import { isProof, proofSeed, recordProof } from '@kavrid/bench/test/proof.ts';

const axis = {
  ...demoAxis,
  homing: { ...demoAxis.homing, method: 37 as const },
  testMove: { ...demoAxis.testMove, from: 0, distance: 60, dwell: 0.1, repeats: 1 },
};
const jogSpeed = axis.jogSpeed ?? 0;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

type Said = SessionMessage | 'gone' | 'cut';
const version = 1;
const jog = (press: number, direction: 1 | -1): Said => ({ type: 'jog', version, press, direction, speed: jogSpeed });
const up = (press: number): Said => ({ type: 'jogEnd', press });

const say = (drive: SimulatedDrive, what: Said, window = 'a') => {
  if (what === 'gone') drive.leave(window);
  else if (what === 'cut') drive.cut();
  else drive.say(what, window);
};

/** What must not be sent any more after an ending. */
const forbiddenAfter = (drive: SimulatedDrive, from: number, isKeyUp: boolean) =>
  drive.sent.slice(from).filter((sent) => isMotionWord(sent) || (!isKeyUp && sent.key === 'heartbeat'));

const stands = (drive: SimulatedDrive) => drive.speed() < 1000;

/** First something that moves, then, at the k-th moment after it, what ends it. */
const axisPairs: readonly (readonly [name: string, begins: Said, ends: Said, isKeyUp: boolean])[] = [
  ['jog, key up', jog(1, 1), up(1), true],
  ['jog, stop', jog(1, 1), { type: 'stop' }, false],
  ['jog, window gone', jog(1, 1), 'gone', false],
  ['jog, disable', jog(1, -1), { type: 'disable' }, false],
  ['home, stop', { type: 'home', version }, { type: 'stop' }, false],
  ['homing series, stop', { type: 'homeSeries', version, starts: [40, 60] }, { type: 'stop' }, false],
  ['homing series, window gone', { type: 'homeSeries', version, starts: [40, 60] }, 'gone', false],
  ['test move, stop', { type: 'testMove', version }, { type: 'stop' }, false],
  ['test move, window gone', { type: 'testMove', version }, 'gone', false],
  ['test move, disconnect', { type: 'testMove', version }, { type: 'disconnect' }, false],
];
const otherPairs: typeof axisPairs = [
  ['enable, stop', { type: 'enable', version, isPropped: true }, { type: 'stop' }, false],
  ['enable, window gone', { type: 'enable', version, isPropped: true }, 'gone', false],
  ['enable, disconnect', { type: 'enable', version, isPropped: true }, { type: 'disconnect' }, false],
];
const delays = isProof ? [0, 15, 30] : [0, 30];

/** Runs a pair with the second message at every moment after the first; `moments` bounds how many are tried. */
async function interleave(
  make: () => Promise<SimulatedDrive>,
  [, begins, ends, isKeyUp]: (typeof axisPairs)[number],
  stride: number,
  after: (drive: SimulatedDrive, moment: number) => Promise<void> = () => Promise.resolve(),
): Promise<number> {
  let tried = 0;
  for (let k = 0; k < 120; k += stride) {
    const drive = await make();
    let [count, endedAt] = [0, -1];
    const end = () => {
      if (endedAt >= 0) return;
      endedAt = drive.sent.length;
      say(drive, ends);
    };
    drive.atEachMoment(() => {
      if (count++ === k) queueMicrotask(end);
    });
    say(drive, begins);
    if (k === 0) end();
    await drive.pass(1200);
    const cameToIt = endedAt >= 0;
    end();
    await drive.until(() => stands(drive), 2500);
    await drive.pass(700);
    expect(stands(drive), `moment ${k}`).toBe(true);
    expect(forbiddenAfter(drive, endedAt, isKeyUp), `moment ${k}`).toEqual([]);
    await after(drive, k);
    drive.end();
    tried++;
    if (!cameToIt) break;
  }
  return tried;
}

describe('every interleaving of two messages', () => {
  const stride = isProof ? 1 : 31;
  let total = 0;
  for (const delay of delays) {
    it.each(axisPairs)(`an enabled axis, answers after ${delay} ms: %s`, { timeout: 600_000 }, async (...pair) => {
      total += await interleave(
        async () => {
          const drive = simulatedDrive(axis, { delay });
          await drive.enabled();
          drive.say({ type: 'home', version });
          await drive.until(() => drive.runs.length === 1 && drive.mailbox.state.script === undefined, 60_000);
          return drive;
        },
        pair,
        stride,
      );
    });
    it.each(otherPairs)(`an axis, answers after ${delay} ms: %s`, { timeout: 600_000 }, async (...pair) => {
      total += await interleave(
        async () => {
          const drive = simulatedDrive(axis, { delay });
          drive.holdsPlan();
          await drive.connected();
          return drive;
        },
        pair,
        stride,
      );
    });
    it(`a spindle, answers after ${delay} ms: run, stop`, { timeout: 600_000 }, async () => {
      const run: Said = { type: 'runSpindle', version, speed: 900, reverse: false };
      for (const ends of [{ type: 'stopSpindle' }, { type: 'stop' }, 'gone'] as const)
        total += await interleave(
          async () => {
            const drive = simulatedDrive(demoSpindle, { delay });
            drive.holdsPlan();
            await drive.connected();
            return drive;
          },
          ['', run, ends, false],
          stride,
        );
    });
  }

  // A guided step that is ended at any moment leaves the axis still, what it has changed is put back, and what was found before stays.
  const guided = (step: string, given = {}): Said => ({ type: 'beginStep', version, step, isByHand: false, given });
  const endings: readonly Said[] = [{ type: 'stop' }, { type: 'endStep' }, { type: 'disconnect' }, 'gone', 'cut'];
  const before = ['hardwareStop', 'warnings', 'handTurn', 'mainPower', 'standstill', 'bump', 'jogPlus', 'jogMinus'];
  const steps = [
    guided('standstill'),
    guided('watchdog'),
    guided('bump'),
    guided('jogPlus'),
    guided('alarm'),
    guided('stopQuick', { speed: 50 }),
  ];
  it.each(steps.flatMap((begins) => endings.map((ends) => ({ begins, ends }))))(
    'a guided step: $begins.step, $ends',
    { timeout: 600_000 },
    async ({ begins, ends }) => {
      total += await interleave(
        async () => {
          const drive = simulatedDrive(axis, { delay: 15 });
          await drive.enabled();
          drive.say({ type: 'home', version });
          await drive.until(() => drive.runs.length === 1 && drive.mailbox.state.script === undefined, 60_000);
          drive.say({ type: 'disable' });
          await drive.until(
            () => drive.mailbox.state.stop === undefined && drive.mailbox.state.recording === undefined,
          );
          for (const step of before) drive.say({ type: 'skipStep', version, step, because: 'not for this test' });
          return drive;
        },
        ['', begins, ends, false],
        isProof ? 2 : 60,
        async (drive, moment) => {
          const planned = drive.plan().planned;
          const { guided: run, stepEvidence } = drive.mailbox.state;
          expect(run?.phase, `moment ${moment}`).toBe('over');
          expect(stepEvidence.map(({ payload }) => payload.step)).toEqual(expect.arrayContaining(before));
          // Whoever comes back finds it put back.
          if (ends === 'gone') drive.come('a');
          if (drive.mailbox.state.link === 'off') drive.say({ type: 'connect', version });
          const left = () =>
            drive.temporary().filter(({ key }) => ['torqueLimit', 'followingErrorWindow'].includes(key));
          await drive.until(
            () => drive.mailbox.state.link === 'up' && left().length === 0 && drive.mailbox.state.lookUp === undefined,
          );
          await drive.pass(100);
          const { parameters } = drive.servo;
          expect(parameters.value('torqueLimit')).toBe(planned.torqueLimit);
          expect(parameters.value('followingErrorWindow')).toBe(planned.followingErrorWindow);
          expect(drive.servo.state).not.toBe('operation enabled');
        },
      );
    },
  );

  it('is counted', () => recordProof('interleavings of two messages', { delays: delays.join(', '), worlds: total }));
});

/** One of three windows says something, or the world does something. */
type Happening =
  | { readonly kind: 'said'; readonly window: 'a' | 'b' | 'c'; readonly what: Said; readonly wait: number }
  | { readonly kind: 'cut' | 'data down' | 'data up'; readonly wait: number };

const wait = fc.integer({ min: 0, max: 120 });
const said: fc.Arbitrary<Said> = fc.oneof(
  fc.constantFrom<Said>(
    { type: 'stop' },
    { type: 'disable' },
    { type: 'takeOver' },
    { type: 'resetFault' },
    { type: 'connect', version },
    { type: 'disconnect' },
    { type: 'home', version },
    { type: 'homeSeries', version, starts: [40] },
    { type: 'goToStart', version },
    { type: 'testMove', version },
    { type: 'readDrive', version },
    'gone',
  ),
  fc.constantFrom<Said>({ type: 'enable', version, isPropped: true }, { type: 'connect', version }),
  fc
    .record({ press: fc.integer({ min: 1, max: 9 }), direction: fc.constantFrom<1 | -1>(1, -1) })
    .chain((one) => fc.constantFrom<Said>(jog(one.press, one.direction), up(one.press))),
);
const happening: fc.Arbitrary<Happening> = fc.oneof(
  {
    weight: 12,
    arbitrary: fc.record({
      kind: fc.constant('said' as const),
      window: fc.constantFrom('a' as const, 'b' as const, 'c' as const),
      what: said,
      wait,
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({ kind: fc.constantFrom('cut' as const, 'data down' as const, 'data up' as const), wait }),
  },
);
const misbehaviour = fc.option(
  fc.record({
    fault: fc.constantFrom<Misbehaviour>('refuses 4', 'refuses 6', 'loses the request', 'loses the answer', 'cuts'),
    /** Which write, counted from the first. */
    at: fc.integer({ min: 0, max: 40 }),
    many: fc.integer({ min: 1, max: 3 }),
  }),
);

describe('random sequences of twenty events from three windows', () => {
  it('end at rest, with nothing sent that was not allowed', { timeout: 3_600_000 }, async () => {
    const runs = isProof ? 4000 : 40;
    const seed = proofSeed;
    await fc.assert(
      fc.asyncProperty(
        fc.array(happening, { minLength: 20, maxLength: 20 }),
        fc.constantFrom(0, 15, 30, 300),
        misbehaviour,
        async (happenings, delay, bad) => {
          let writes = 0;
          const drive = simulatedDrive(axis, {
            delay,
            misbehave: ({ key }) => {
              if (key === undefined || !bad) return undefined;
              const index = writes++;
              return index >= bad.at && index < bad.at + bad.many ? bad.fault : undefined;
            },
          });
          try {
            await walk(drive, happenings);
          } finally {
            drive.end();
          }
        },
      ),
      { numRuns: runs, seed, endOnFailure: isProof },
    );
    recordProof('random sequences of twenty events', { seed, worlds: runs });
  });
});

async function walk(drive: SimulatedDrive, happenings: readonly Happening[]): Promise<void> {
  drive.holdsPlan();
  for (const window of ['b', 'c']) drive.come(window);
  if (
    !(await drive.connected().then(
      () => true,
      () => false,
    ))
  )
    return;
  drive.say({ type: 'enable', version, isPropped: true });
  await drive.pass(300);
  // Judged as they leave: whatever can move something, or keeps it moving, has a permit that is alive.
  const wrong: string[] = [];
  drive.atEachMoment(() => {
    const last = drive.sent.at(-1);
    if (!last || last.at !== performance.now()) return;
    const { permits, stop } = drive.mailbox.state;
    if (isMotionWord(last) && permits.act === undefined)
      wrong.push(`motion word ${last.key} ${last.raw} without a permit`);
    if (last.key === 'heartbeat' && permits.enable === undefined && permits.act === undefined)
      wrong.push('heartbeat without a permit');
    if (last.key === 'heartbeat' && stop?.how === 'quick stop') wrong.push('heartbeat during a stop');
  });
  for (const each of happenings) {
    if (each.kind === 'said') {
      say(drive, each.what, each.window);
      if (each.what === 'gone') drive.come(each.window);
    } else if (each.kind === 'cut') drive.cut();
    else drive.setDataUp(each.kind === 'data up');
    await drive.pass(each.wait);
  }
  for (const window of ['a', 'b', 'c']) drive.leave(window);
  await drive.until(() => stands(drive), 8000);
  await drive.pass(600);
  expect(stands(drive)).toBe(true);
  expect(drive.servo.state).not.toBe('operation enabled');
  expect(wrong).toEqual([]);
}
