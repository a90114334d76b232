import { carriageWorld, secondPlant } from '@kavrid/bench';
import { isProof, proofSeed, recordProof } from '@kavrid/bench/test/proof.ts';
import { sessionTiming, type MoveOrder, type RunKind, type SessionMessage } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { isMotionWord, profiles, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

const version = 1;
const countsPerMillimetre = (2 ** 20 * 3) / 320;
const startCounts = 600_000;

/** Homed where it stands, with small moves of every kind. */
const axis: typeof demoAxis = {
  ...demoAxis,
  homing: { ...demoAxis.homing, method: 37, positionAtHome: 200 },
  testMove: { ...demoAxis.testMove, from: 200, distance: 40, dwell: 0.1, repeats: 1 },
  moves: {
    ...demoAxis.moves,
    jogStep: 3,
    target: 230,
    by: 30,
    faster: { from: 100, step: 100, to: 200, followingError: null, torque: null },
    response: { speed: 50, seconds: 0.3 },
    press: { speed: 20, torque: 60, travel: 60, seconds: 0.3 },
    wait: { speedGap: 10, positionGap: 2 },
  },
  tuning: {
    ...demoAxis.tuning,
    sweep: { from: 20, to: 200, torque: 20, travel: 20 },
    trial: { ...demoAxis.tuning.trial, positionGain: 50, velocityFeedforward: 95 },
  },
};

const makes = (order: MoveOrder): SessionMessage => ({ type: 'makeMove', version, order });
const jogs = (by: 'lever' | 'fenced' | 'slow', speed = demoAxis.jogSpeed ?? 0): SessionMessage => ({
  type: 'jog',
  version,
  press: 1,
  direction: 1,
  speed,
  by,
});

interface Activity {
  readonly begins: SessionMessage;
  /** What it is kept as; undefined: it is not recorded. */
  readonly kind?: RunKind;
}
const activities: Readonly<Record<string, Activity>> = {
  'a step': { begins: makes({ kind: 'step', direction: 1 }) },
  'a slow jog': { begins: jogs('slow', 6) },
  'a jog by a lever': { begins: jogs('lever') },
  'a fenced jog': { begins: jogs('fenced') },
  'to a position': { begins: makes({ kind: 'to' }), kind: 'move' },
  'by a distance': { begins: makes({ kind: 'by' }), kind: 'move' },
  'back and forth': { begins: { type: 'testMove', version }, kind: 'test move' },
  'faster and faster': { begins: makes({ kind: 'faster' }), kind: 'speed series' },
  'a speed step': { begins: makes({ kind: 'response', shape: 'step', direction: 1 }), kind: 'response' },
  'a ramp': { begins: makes({ kind: 'response', shape: 'ramp', direction: -1 }), kind: 'response' },
  'a waiting speed': { begins: makes({ kind: 'wait', direction: 1 }), kind: 'response' },
  'a press': { begins: makes({ kind: 'press', direction: 1 }), kind: 'press' },
  'a sweep': { begins: makes({ kind: 'sweep' }), kind: 'sweep' },
  'a trial of gains': { begins: makes({ kind: 'trial', isMeant: false }), kind: 'gain trial' },
};

interface End {
  readonly by: (drive: SimulatedDrive) => void;
  /** ms after which nothing more that moves may be sent */
  readonly within: number;
  /** What has been recorded is kept; absent: it is. */
  readonly keeps?: boolean;
}
const ends: Readonly<Record<string, End>> = {
  stop: { by: (drive) => drive.say({ type: 'stop' }), within: 0 },
  'a closed window': { by: (drive) => drive.leave(), within: 0 },
  'a silent window': { by: (drive) => drive.silence(), within: sessionTiming.silentOtherwise + 100 },
  'a lost link': { by: (drive) => drive.cut(), within: 0 },
  'a killed server': { by: (drive) => drive.serverKilled(), within: 0, keeps: false },
  // The loss of the main supply is an alarm of the drive. It is seen at the next look.
  'an alarm': { by: (drive) => void (drive.servo.hasMainSupply = false), within: 100 },
};

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

const isIdle = () => drive.mailbox.state.script === undefined && drive.mailbox.state.recording === undefined;
const parameterValues = () => profiles.axis.parameters.map(({ key }) => `${key} ${drive.servo.parameters.value(key)}`);

/** Homed, on one of the two plants. */
async function ready(plant: 'first' | 'second'): Promise<void> {
  // Something stands in the way of a press, and of nothing else.
  const world = { ...carriageWorld, startCounts, plusStop: startCounts + 42 * countsPerMillimetre };
  drive = simulatedDrive(axis, { world, delay: 4, ...(plant === 'second' ? { makePlant: secondPlant } : {}) });
  await drive.enabled();
  drive.say({ type: 'home', version });
  await drive.until(() => drive.runs.length === 1 && isIdle(), 60_000);
}

/** Steps of its script. */
async function stepsOf({ begins }: Activity): Promise<number> {
  await ready('first');
  drive.say(begins);
  const steps = drive.mailbox.state.script?.steps.length ?? 0;
  drive.end();
  return steps;
}

/** Ends an activity at the moment at which a step of it begins, or some ms later. */
async function endsAt(
  { begins, kind }: Activity,
  { by, within, keeps = true }: End,
  step: number,
  later: number,
): Promise<void> {
  const before = parameterValues();
  let isReached = false;
  drive.say(begins);
  drive.atEachMoment(() => {
    // The last step may be over as soon as it begins.
    if ((drive.mailbox.state.script?.at ?? Infinity) >= step) isReached = true;
  });
  expect(drive.mailbox.state.script).toBeDefined();
  await drive.until(() => isReached, 60_000);
  await drive.pass(later);
  const wasRecording = drive.mailbox.state.recording !== undefined;
  const kept = drive.runs.length;
  by(drive);
  await drive.pass(within);
  const from = drive.sent.length;
  await drive.until(() => drive.speed() < 1000, 2500);
  await drive.pass(700);
  expect(drive.speed()).toBeLessThan(1000);
  expect(drive.servo.state).not.toBe('operation enabled');
  expect(drive.sent.slice(from).filter(isMotionWord)).toEqual([]);
  if (keeps) {
    await drive.until(() => drive.mailbox.state.recording === undefined && (!wasRecording || drive.runs.length > kept));
    if (wasRecording) expect(drive.runs.at(-1)?.kind).toBe(kind);
  }
  // Whoever comes back finds everything put back but the command source, which is for the hand-over.
  drive.servo.hasMainSupply = true;
  drive.come();
  await drive.until(() => drive.mailbox.state.plan !== undefined);
  if (drive.mailbox.state.link === 'off') drive.say({ type: 'connect', version });
  await drive.until(
    () =>
      drive.mailbox.state.link === 'up' &&
      drive.mailbox.state.lookUp === undefined &&
      drive.temporary().every(({ key }) => key === 'commandSource'),
  );
  await drive.pass(100);
  expect(parameterValues()).toEqual(before);
}

describe('a move that is ended at any of its steps', () => {
  let [worlds, seed] = [0, proofSeed];
  const next = (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below;

  it.each(Object.entries(activities))(
    '%s: the axis stands, all is put back, the recording is kept',
    { timeout: 3_600_000 },
    async (_, activity) => {
      const steps = await stepsOf(activity);
      expect(steps).toBeGreaterThan(1);
      const all = Object.values(ends).flatMap((end) => Array.from({ length: steps }, (_, step) => ({ end, step })));
      // `npm test` takes two of all steps and ends of an activity.
      const [first, second] = [next(all.length), next(all.length)];
      const chosen = isProof ? all : all.filter((_, k) => k === first || k === second);
      for (const { end, step } of chosen) {
        // At the moment at which the step begins, or while it is under way.
        const later = isProof ? 60 * (step % 2) : 30 * next(3);
        await ready((worlds >> 1) % 2 === 0 ? 'first' : 'second');
        await endsAt(activity, end, step, later);
        drive.end();
        worlds++;
      }
    },
  );

  it('is counted', () => recordProof('moves ended at any step', { worlds }));
});
