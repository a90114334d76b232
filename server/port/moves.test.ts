import { carriageWorld } from '@kavrid/bench';
import { axisInputOf, channelValues, feedforwardOf, loopModel, startOfTrace } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { demandedSpeedResponse, frequencyResponse, withoutDryFriction } from '@kavrid/core/tuning';
import type { MoveOrder } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { isMotionWord, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

type Axis = typeof demoAxis;
const axis: Axis = { ...demoAxis, testMove: { ...demoAxis.testMove, from: 30, distance: 600, repeats: 1, dwell: 0.1 } };
const countsPerMillimetre = (2 ** 20 * 3) / 320;
const version = 1;
let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

const moves = (more: Partial<Axis['moves']>): Axis => ({ ...axis, moves: { ...axis.moves, ...more } });
const idle = (most = 120_000) =>
  drive.until(() => drive.mailbox.state.script === undefined && !drive.mailbox.state.recording, most);
const order = (made: MoveOrder) => drive.say({ type: 'makeMove', version, order: made });
/** Refused with these words, and nothing has been sent that could move. */
const refused = async (made: MoveOrder, words: string | RegExp) => {
  const at = drive.sent.length;
  order(made);
  expect(drive.lastRefusal()).toMatch(words);
  await drive.pass(200);
  expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
};
const unitsPerCount = () => {
  const motion = drive.mailbox.state.plan?.motion;
  return motion?.kind === 'axis' ? motion.unitsPerCount : NaN;
};
const position = () => (drive.mailbox.state.status?.values.positionCounts ?? NaN) * unitsPerCount();

const enabled = (document: Axis) => (drive = simulatedDrive(document)).enabled();
const homed = async (document: Axis) => {
  await enabled(document);
  drive.say({ type: 'home', version });
  await idle();
};

describe('moves beside the test move', () => {
  it('a step goes its length and no more; one that would take long is refused with its time', async () => {
    await enabled(moves({ jogStep: 3 }));
    await drive.pass(200);
    const before = position();
    order({ kind: 'step', direction: 1 });
    await idle();
    await drive.pass(300);
    expect(position() - before).toBeCloseTo(3, 1);
    order({ kind: 'step', direction: -1 });
    await idle();
    await drive.pass(300);
    expect(position() - before).toBeCloseTo(0, 1);
    drive.end();
    // 300 mm at 60 mm/s.
    await enabled(moves({ jogStep: 300 }));
    await refused({ kind: 'step', direction: 1 }, /300 mm takes 5\.\d+ s at 60 mm\/s/);
  });

  it('to a position and by a distance: only homed, and within the soft limits, which are named', async () => {
    await enabled(moves({ target: 120, by: -300 }));
    await refused({ kind: 'to' }, 'Home the axis first');
    drive.say({ type: 'home', version });
    await idle();
    order({ kind: 'to' });
    await idle();
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'move', end: 'finished' });
    // It stands recorded for a tenth of a second before its trigger, with which the demand begins.
    const { header } = drive.lastTrace();
    const { before = 0 } = header;
    const demand = channelValues(drive.lastTrace(), 'demandPosition') ?? new Float64Array();
    expect(-startOfTrace(header)).toBeGreaterThan(0.1);
    expect(new Set(demand.subarray(0, before))).toEqual(new Set([demand[0]]));
    expect(demand[before + 2]).not.toBe(demand[0]);
    await drive.pass(200);
    expect(position()).toBeCloseTo(120, 1);
    await refused({ kind: 'by' }, /goes to -180 mm, beyond the minus soft limit of -8 mm/);
    drive.end();
    await homed(moves({ target: 1900 }));
    await refused({ kind: 'to' }, /beyond the plus soft limit of 1845 mm/);
    drive.end();
    await homed(moves({ target: null, by: null }));
    await refused({ kind: 'by' }, 'Enter the distance first.');
  });

  it('faster and faster ends after the speed at which a limit was passed, at its start, and is kept', async () => {
    const faster = { from: 200, step: 200, to: 800, followingError: 2.6, torque: null };
    await homed(moves({ faster }));
    await refused({ kind: 'faster' }, 'Go to the start first');
    drive.say({ type: 'goToStart', version });
    await idle();
    order({ kind: 'faster' });
    await idle();
    // 15 % of the speed over a gain of 40/s is left: 2.25 mm at 600 mm/s, 3 mm at 800 mm/s.
    expect(drive.lastRefusal()).toMatch(
      /^The series ended at 800 mm\/s: a following error of [\d.]+ mm is above the limit of 2.6 mm/,
    );
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'speed series', end: 'finished' });
    await drive.pass(200);
    expect(position()).toBeCloseTo(30, 0);
    drive.end();
    for (const [change, words] of [
      [{ to: 100 }, 'below the first'],
      [{ step: 1 }, '601 speeds'],
      // 2000²/4000 = 1000 mm.
      [{ to: 2000 }, /2000 mm\/s is not reached within 600 mm .* takes 1000 mm/],
      [{ to: null }, 'Enter the first speed'],
    ] as const) {
      await homed(moves({ faster: { ...faster, ...change } }));
      await refused({ kind: 'faster' }, words);
      drive.end();
    }
    await homed({ ...moves({ faster }), testMove: { ...axis.testMove, acceleration: 25_000, jerk: null } });
    await refused({ kind: 'faster' }, /needs \d+\.?\d* % of rated torque, more than the torque limit of 150 %/);
  });

  it('a speed step and a ramp come to rest and are recorded; one that leaves the soft limits is refused', async () => {
    await homed(moves({ response: { speed: 50, seconds: 0.5 } }));
    for (const shape of ['step', 'ramp'] as const) {
      order({ kind: 'response', shape, direction: 1 });
      await idle();
      expect(drive.runs.at(-1)).toMatchObject({ kind: 'response', end: 'finished' });
      expect(drive.speed()).toBeLessThan(1000);
    }
    drive.end();
    await homed(moves({ response: { speed: 50, seconds: 60 } }));
    await refused({ kind: 'response', shape: 'ramp', direction: 1 }, /beyond the plus soft limit/);
  });

  it('presses until something holds the axis, holds it there, goes back; the torque limit is put back with the motor off', async () => {
    const press = { speed: 20, torque: 60, travel: 60, seconds: 0.5 };
    // Something stands in the way at 1400 mm of the frame, which is 1360 mm from home, far before the plus limit switch.
    const world = { ...carriageWorld, plusStop: 1400 * countsPerMillimetre };
    const inTheWay = { ...moves({ press, target: 1340 }), jogSpeed: 200 };
    drive = simulatedDrive(inTheWay, { world });
    await drive.enabled();
    drive.say({ type: 'home', version });
    await idle();
    order({ kind: 'to' });
    await idle();
    await drive.pass(200);
    const planned = drive.servo.parameters.value('torqueLimit');
    order({ kind: 'press', direction: 1 });
    let farthest = 0;
    await drive.until(() => {
      farthest = Math.max(farthest, position());
      return drive.mailbox.state.script === undefined && !drive.mailbox.state.recording;
    }, 120_000);
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'press', end: 'finished' });
    expect(Math.abs(farthest - 1360)).toBeLessThan(2);
    await drive.pass(300);
    expect(position()).toBeCloseTo(1340, 0);
    // Nothing else is moved with what the press has changed; with the motor off it is put back by itself.
    expect(drive.servo.parameters.value('torqueLimit')).toBe(60);
    await refused({ kind: 'to' }, 'The torque limit and following-error window of the press are still set');
    drive.say({ type: 'disable' });
    await drive.until(() => drive.servo.parameters.value('torqueLimit') === planned, 20_000);
    await drive.until(() => drive.temporary().every(({ key }) => key !== 'torqueLimit'));
  });

  it('presses into nothing: it is stopped after the travel, and an end beyond the soft limits is refused', async () => {
    const press = { speed: 40, torque: 60, travel: 20, seconds: 0.5 };
    await homed(moves({ press }));
    order({ kind: 'press', direction: 1 });
    await idle();
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'press', end: 'stopped' });
    await drive.pass(1000);
    expect(drive.speed()).toBeLessThan(1000);
    expect(drive.servo.state).not.toBe('operation enabled');
    drive.end();
    await homed(moves({ press: { ...press, travel: 3000 } }));
    await refused({ kind: 'press', direction: 1 }, /beyond the plus soft limit/);
    drive.end();
    await homed(moves({ press: { ...press, torque: 400 } }));
    await refused({ kind: 'press', direction: 1 }, '400 % is above the planned torque limit of 150 %');
  });
});

describe('a speed that waits', () => {
  const document = moves({ response: { speed: 50, seconds: 3 }, wait: { speedGap: 10, positionGap: 2 } });
  /** Homed, on its way, and then held by a hand that no torque moves. */
  async function heldOnTheWay(with_: Axis, start: MoveOrder) {
    await homed(with_);
    order(start);
    await drive.until(() => Math.abs(drive.servo.mechanics.velocityCounts * unitsPerCount()) > 45);
    const { mechanics } = drive.servo;
    mechanics.trouble.friction = 100;
    mechanics.changed();
    await drive.pass(1200);
    return mechanics;
  }

  it('waits for a shaft that is held, and goes on at its speed when it is let go', async () => {
    const mechanics = await heldOnTheWay(document, { kind: 'wait', direction: 1 });
    expect(drive.servo.state).toBe('operation enabled');
    expect(Math.abs(mechanics.followingErrorCounts * unitsPerCount())).toBeLessThan(2.1);
    mechanics.trouble.friction = 1;
    mechanics.changed();
    let fastest = 0;
    await drive.until(() => {
      fastest = Math.max(fastest, Math.abs(mechanics.velocityCounts * unitsPerCount()));
      return drive.mailbox.state.script === undefined && !drive.mailbox.state.recording;
    }, 30_000);
    expect(fastest).toBeLessThan(150);
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'response', end: 'finished' });
  });

  it('without waiting the same hand makes an alarm', async () => {
    await heldOnTheWay(moves({ response: { speed: 50, seconds: 3 } }), {
      kind: 'response',
      shape: 'ramp',
      direction: 1,
    });
    await idle();
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'response', end: 'fault' });
  });

  it('is refused without gaps, without parameters for them, and where the drive has others', async () => {
    await homed(moves({ response: { speed: 50, seconds: 3 } }));
    await refused({ kind: 'wait', direction: 1 }, 'Enter the gap in speed or in position first');
    drive.end();
    drive = simulatedDrive(document, {
      profile: (profile) => ({
        ...profile,
        parameters: profile.parameters.filter(({ role }) => role !== 'waitSpeedGap'),
      }),
    });
    await drive.enabled();
    await refused({ kind: 'wait', direction: 1 }, 'no parameter with the role waitSpeedGap');
    drive.end();
    await homed(document);
    drive.servo.parameters.write('waitPositionGap', 5);
    drive.servo.parametersChanged();
    order({ kind: 'wait', direction: 1 });
    await drive.until(() => drive.lastRefusal() !== undefined);
    expect(drive.lastRefusal()).toMatch('Set-point wait, position gap is');
    expect(drive.speed()).toBeLessThan(10_000);
  });
});

describe('a sweep', () => {
  const swept = (more: Partial<Axis['tuning']['sweep']> = {}): Axis => ({
    ...axis,
    moves: { ...axis.moves, target: 400 },
    tuning: { ...axis.tuning, sweep: { from: 4, to: 200, torque: 20, travel: 20, ...more } },
  });

  /** Homed, in the middle of its travel. */
  async function inTheMiddle(world: Partial<typeof carriageWorld>, more: Partial<Axis['tuning']['sweep']> = {}) {
    drive = simulatedDrive(swept(more), { world: { ...carriageWorld, ...world } });
    await drive.enabled();
    drive.say({ type: 'home', version });
    await idle();
    order({ kind: 'to' });
    await idle();
    await drive.pass(300);
  }
  /** What the last recording holds. */
  const recorded = () => {
    const trace = drive.lastTrace();
    const values = (id: string) => channelValues(trace, id) ?? new Float64Array();
    return { reference: values('demandSpeed'), torque: values('torque'), speed: values('actualSpeed') };
  };
  // 1/(J·s) with the inertias of the world, 2.39 N·m rated, 320/3 mm a turn of the motor.
  const { rotorInertia, loadInertia, ratedTorque } = carriageWorld;
  const perPercent = ((ratedTorque / 100) * (320 / 3)) / (2 * Math.PI) / (rotorInertia + loadInertia);

  it('of an axis with much dry friction gives its inertia, with the friction found and taken away', async () => {
    await inTheMiddle({ viscousFriction: 0 }, { torque: 80, travel: 30 });
    order({ kind: 'sweep' });
    await idle();
    const { torque, ...rest } = recorded();
    const freed = withoutDryFriction(torque, rest.speed, 0.001);
    // 0.875 N·m at the load, through stages of 0.95 and 0.96, of 2.39 N·m.
    expect(Math.abs(freed.friction - (100 * 0.875) / 0.95 / 0.96 / 2.39)).toBeLessThan(1);
    const found = frequencyResponse({ ...rest, torque: freed.torque }, 0.001, 5, 18);
    // Through the same stages the load is heavier to accelerate.
    const heavier = (rotorInertia + loadInertia / 0.95 / 0.96) / (rotorInertia + loadInertia);
    expect(found?.leftOut).toBe(0);
    found?.plant.hertz.forEach((hertz, k) => {
      const gain = perPercent / heavier / (2 * Math.PI * hertz);
      expect(Math.abs(20 * Math.log10((found.plant.gain[k] ?? NaN) / gain)), `${hertz} Hz`).toBeLessThan(1);
      expect(Math.abs((found.plant.phase[k] ?? NaN) + 90), `${hertz} Hz`).toBeLessThan(5);
    });
  });

  it('stays within its travel, comes to rest, and gives the plant of the bench within 1 dB and 5°', async () => {
    // Without friction both loops are linear.
    await inTheMiddle({ coulombFriction: 0.01, viscousFriction: 0 });
    const start = position();
    let [least, most] = [start, start];
    order({ kind: 'sweep' });
    await drive.until(() => {
      [least, most] = [Math.min(least, position()), Math.max(most, position())];
      return drive.mailbox.state.script === undefined && !drive.mailbox.state.recording;
    }, 60_000);
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'sweep', end: 'finished' });
    expect(most - least).toBeLessThan(20);
    expect(most - least).toBeGreaterThan(1);
    expect(drive.speed()).toBeLessThan(1000);
    const found = frequencyResponse(recorded(), 0.001, 5, 60);
    if (!found) throw new Error('nothing was found');
    found.plant.hertz.forEach((hertz, k) => {
      const gain = perPercent / (2 * Math.PI * hertz);
      expect(Math.abs(20 * Math.log10((found.plant.gain[k] ?? NaN) / gain)), `${hertz} Hz`).toBeLessThan(1);
      expect(Math.abs((found.plant.phase[k] ?? NaN) + 90), `${hertz} Hz`).toBeLessThan(5);
    });
    // The speed over its demand is what the model says with the inertia of the world, the cautious dead time of a plan aside.
    const model = loopModel(axis, evaluateAxis(axisInputOf(axis).input));
    if (model.state === 'unknown') throw new Error(model.because);
    const { hertz, gain } = found.closed;
    const wanted = demandedSpeedResponse(
      { ...model.value, loadInertia, deadTime: 0 },
      feedforwardOf(axis, model.value),
      hertz.map((each) => 2 * Math.PI * each),
    );
    const differences = [...hertz].map((_, k) => {
      const by = Math.hypot(wanted.real[k] ?? 0, wanted.imaginary[k] ?? 0);
      return Math.abs(20 * Math.log10((gain[k] ?? NaN) / by));
    });
    expect(Math.max(...differences)).toBeLessThan(1);
  });

  it('comes to rest where it began, whatever ramp was in the drive before', async () => {
    // Homed where it stands, near its minus soft limit: nothing has told the drive a ramp yet.
    drive = simulatedDrive(
      { ...swept({ from: 20 }), homing: { ...axis.homing, method: 37, positionAtHome: 200 } },
      { world: { ...carriageWorld, startCounts: 600_000 } },
    );
    await drive.enabled();
    drive.say({ type: 'home', version });
    await idle();
    order({ kind: 'sweep' });
    await idle();
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'sweep', end: 'finished' });
    await drive.pass(500);
    expect(drive.speed()).toBeLessThan(1000);
    expect(position()).toBeCloseTo(200, 0);
  });

  it('is refused with its number, and a stop in its middle leaves the axis still and the recording kept', async () => {
    for (const [change, words] of [
      [{ to: 600 }, '600 Hz is above the 400 Hz'],
      [{ to: 4 }, 'should be above the first'],
      [{ torque: 400 }, '400 % is above the planned torque limit of 150 %'],
      [{ travel: 5000 }, /beyond the minus soft limit/],
      [{ torque: null }, 'Enter both frequencies'],
    ] as const) {
      await homed(swept(change));
      await refused({ kind: 'sweep' }, words);
      drive.end();
    }
    await inTheMiddle({});
    order({ kind: 'sweep' });
    await drive.until(() => drive.mailbox.state.progress.startsWith('Sweep'));
    await drive.pass(3000);
    drive.say({ type: 'stop' });
    await idle(20_000);
    await drive.pass(500);
    expect(drive.speed()).toBeLessThan(1000);
    expect(drive.servo.state).not.toBe('operation enabled');
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'sweep', end: 'stopped' });
  });
});

describe('an enabled axis that nothing commands from here', () => {
  it('is stopped when it goes on moving, and left alone when a hand pushes it for a moment', async () => {
    await enabled(axis);
    const velocity = (increments: number) => drive.servo.cells().targetVelocity?.write?.(increments);
    drive.say({ type: 'jog', version, press: 1, direction: 1, speed: axis.jogSpeed ?? 0 });
    await drive.pass(500);
    drive.say({ type: 'jogEnd', press: 1 });
    await drive.pass(1000);
    // Another master, for a quarter of a second; then again, and it does not end.
    velocity(500);
    await drive.pass(250);
    velocity(0);
    await drive.pass(1000);
    expect(drive.servo.state).toBe('operation enabled');
    velocity(500);
    await drive.pass(1000);
    expect(drive.servo.state).not.toBe('operation enabled');
    expect(drive.mailbox.state.linkMessage).toBe('Stopped: the axis moved without a command from Kavrid.');
    await drive.pass(500);
    expect(drive.speed()).toBeLessThan(1000);
  });
});

describe('jogs beside the plain one', () => {
  const jogSpeed = axis.jogSpeed ?? 0;
  const jog = (direction: 1 | -1, by: 'lever' | 'fenced' | 'slow', speed = jogSpeed, press = 1) =>
    drive.say({ type: 'jog', version, press, direction, speed, by });
  const unitsPerSecond = () => drive.servo.mechanics.velocityCounts * unitsPerCount();

  it('a slow jog goes at a tenth of the jog speed, and at no other', async () => {
    await enabled(axis);
    jog(1, 'slow');
    expect(drive.lastRefusal()).toMatch('A jog at 60 mm/s is not what is planned (6 mm/s)');
    jog(-1, 'slow', 6, 2);
    await drive.pass(1000);
    expect(unitsPerSecond()).toBeCloseTo(-6, 0);
    drive.say({ type: 'jogEnd', press: 2 });
    await drive.until(() => Math.abs(unitsPerSecond()) < 0.5);
  });

  it('a lever changes the speed while it is held, up to the limit of a jog, and nothing once it is let go', async () => {
    await enabled(axis);
    jog(1, 'lever', 10);
    await drive.until(() => unitsPerSecond() > 8);
    drive.say({ type: 'jogSpeed', press: 1, speed: -30 });
    await drive.until(() => unitsPerSecond() < -28);
    drive.say({ type: 'jogSpeed', press: 1, speed: 99_999 });
    await drive.until(() => unitsPerSecond() > 240, 20_000);
    expect(unitsPerSecond()).toBeLessThan(255);
    // A lever of another press or window moves nothing.
    drive.say({ type: 'jogSpeed', press: 2, speed: 20 });
    drive.come('b');
    drive.say({ type: 'jogSpeed', press: 1, speed: 20 }, 'b');
    await drive.pass(300);
    expect(unitsPerSecond()).toBeGreaterThan(240);
    drive.say({ type: 'jogEnd', press: 1 });
    drive.say({ type: 'jogSpeed', press: 1, speed: 50 });
    await drive.until(() => Math.abs(unitsPerSecond()) < 0.5, 20_000);
    drive.say({ type: 'jogSpeed', press: 1, speed: 50 });
    await drive.pass(1000);
    expect(Math.abs(unitsPerSecond())).toBeLessThan(0.5);
    // Above the limit a lever does not even begin, and the speed of a plain jog is no lever's.
    jog(1, 'lever', 99_999, 3);
    expect(drive.lastRefusal()).toContain('is above 250 mm/s');
    drive.say({ type: 'jog', version, press: 4, direction: 1, speed: jogSpeed });
    await drive.until(() => unitsPerSecond() > 50);
    drive.say({ type: 'jogSpeed', press: 4, speed: 10 });
    await drive.pass(500);
    expect(unitsPerSecond()).toBeGreaterThan(50);
  });

  it('a lever whose new speed the drive does not take ends the jog', async () => {
    let isRefusing = false;
    drive = simulatedDrive(axis, {
      misbehave: ({ key }) => (isRefusing && key === 'targetVelocity' ? 'refuses 4' : undefined),
    });
    await drive.enabled();
    jog(1, 'lever', 30);
    await drive.until(() => unitsPerSecond() > 25);
    isRefusing = true;
    drive.say({ type: 'jogSpeed', press: 1, speed: 40 });
    await drive.until(() => drive.servo.state !== 'operation enabled', 20_000);
    await drive.until(() => Math.abs(unitsPerSecond()) < 0.5, 20_000);
  });

  it('a fenced jog stands quietly in front of its fence while it is held, never beyond it, and without an alarm', async () => {
    await homed(axis);
    drive.say({ type: 'goToStart', version });
    await idle();
    jog(1, 'fenced');
    await drive.until(() => unitsPerSecond() > 50);
    const alive = setInterval(() => drive.say({ type: 'alive' }), 50);
    await drive.until(() => Math.abs(unitsPerSecond()) < 0.2 && position() > 500, 60_000);
    await drive.pass(1000);
    clearInterval(alive);
    expect(position()).toBeLessThanOrEqual(630);
    expect(position()).toBeGreaterThan(610);
    expect(drive.servo.state).toBe('operation enabled');
    expect(drive.servo.parameters.value('torqueLimit')).toBe(60);
    drive.say({ type: 'jogEnd', press: 1 });
    await drive.until(() => drive.mailbox.state.script === undefined);
    // Beyond a fence it goes back only.
    drive.say({ type: 'disable' });
    await drive.until(() => drive.servo.parameters.value('torqueLimit') === 150, 20_000);
    drive.end();
    await homed({ ...axis, testMove: { ...axis.testMove, distance: 100 } });
    jog(-1, 'fenced');
    expect(drive.lastRefusal()).toMatch(/beyond the fence at 30 mm/);
  });
});
