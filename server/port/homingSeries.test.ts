import { carriageWorld } from '@kavrid/bench';
import { scatterOf } from '@kavrid/core/homing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { isMotionWord, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';
import { liveOf } from './liveOf.ts';

const perMillimetre = (2 ** 20 * 3) / 320;
let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

async function enabled(indexOffset = carriageWorld.indexOffset, change = {}): Promise<void> {
  drive = simulatedDrive(
    { ...demoAxis, homing: { ...demoAxis.homing, searchSpeed: 240, creepSpeed: 24, ...change } },
    { world: { ...carriageWorld, startCounts: Math.round(150 * perMillimetre), indexOffset } },
  );
  await drive.enabled();
}
const say = (starts: readonly number[]) =>
  drive.say({ type: 'homeSeries', version: drive.version(), starts: [...starts] });
const isOver = () => drive.mailbox.state.script === undefined && drive.mailbox.state.stop === undefined;
const shown = () => {
  const live = liveOf('member', drive.mailbox.state, 'a', performance.now());
  return live.kind === 'axis' ? live.homingSeries : undefined;
};
const proof = () => drive.proofs.find(({ kind }) => kind === 'homing series');

describe('a homing that is broken off', () => {
  const homing = async () => {
    await enabled();
    drive.say({ type: 'home', version: drive.version() });
    await drive.until(() => drive.speed() > 10_000);
  };
  const endsStill = async () => {
    const at = drive.sent.length;
    await drive.until(isOver, 20_000);
    await drive.pass(3000);
    expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
    expect(drive.speed()).toBeLessThan(100);
    expect(drive.servo.homed).toBe(false);
  };

  it('by loss of the main supply ends still, says why, and is not homed', async () => {
    await homing();
    drive.servo.hasMainSupply = false;
    await endsStill();
    expect(drive.mailbox.state.lastEnd?.end).toMatchObject({
      kind: 'fault',
      because: expect.stringContaining('undervoltage'),
    });
  });

  it('by loss of its control supply, and so of the link, ends still and does not go on afterwards', async () => {
    await homing();
    drive.servo.hasControlSupply = false;
    drive.setReachable(false);
    drive.cut();
    await drive.pass(2000);
    drive.servo.hasControlSupply = true;
    drive.servo.restart();
    drive.setReachable(true);
    await drive.until(() => drive.mailbox.state.link === 'up', 20_000);
    await endsStill();
  });

  it('by a switch that is never found says which, and what to look at', async () => {
    await enabled(carriageWorld.indexOffset, { method: 17, mostTravel: 40 });
    drive.say({ type: 'home', version: drive.version() });
    await drive.until(() => drive.speed() > 1000);
    await endsStill();
    expect(drive.lastRefusal()).toContain(
      'the switch was not found within the longest search distance allowed. Trip the switch by hand',
    );
  });
});

describe('a homing series', () => {
  it('homes from each start in turn, measured by the counts that homing does not reset, and is kept', async () => {
    await enabled();
    say([60, 200, 90]);
    expect(drive.mailbox.state.script?.activity).toBe('homing series');
    await drive.until(isOver, 120_000);
    expect(shown()).toMatchObject({ of: 4 });
    const { homes = [] } = shown() ?? {};
    expect(homes).toHaveLength(4);
    // On an index pulse home repeats to some counts: a hundredth of a millimetre are 98.
    expect(scatterOf(homes).range).toBeLessThan(0.01);
    await drive.pass(50);
    expect(proof()).toMatchObject({ payload: { of: 4, end: 'finished' } });
    // Where it stands it is homed, by the last one.
    expect(drive.servo.homed).toBe(true);
  });

  it('without index pulse scatters by the looks at the switch', async () => {
    await enabled(carriageWorld.indexOffset, { method: 17 });
    say([40, 55.3, 71.7, 33.9]);
    await drive.until(isOver, 120_000);
    const { standardDeviation, range } = scatterOf(shown()?.homes ?? []);
    // A look every millisecond at 24 mm/s.
    expect(range).toBeLessThan(0.024 * 1.2);
    expect(standardDeviation).toBeGreaterThan(0);
  });

  it('ends still at a stop, wherever it comes, and what it has measured so far is kept', async () => {
    await enabled();
    say([60, 200, 90]);
    await drive.until(() => (drive.mailbox.state.homingSeries?.zeros.length ?? 0) >= 2, 120_000);
    await drive.until(() => drive.speed() > 1000);
    drive.say({ type: 'stop' });
    const at = drive.sent.length;
    await drive.until(isOver, 10_000);
    expect(drive.speed()).toBeLessThan(1000);
    expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
    await drive.pass(50);
    expect(proof()).toMatchObject({ payload: { of: 4, end: 'stopped' } });
  });

  it('waits at home while it is paused, goes on when it may, and stops from there as well', async () => {
    await enabled();
    say([60, 200, 90]);
    const homes = () => drive.mailbox.state.homingSeries?.zeros.length ?? 0;
    drive.say({ type: 'pauseSeries', isPaused: true });
    await drive.until(() => homes() === 1, 120_000);
    const at = drive.sent.length;
    await drive.pass(20_000);
    expect([homes(), drive.speed() < 1000, shown()?.isPaused]).toEqual([1, true, true]);
    expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
    // Another window does not let it go on.
    drive.come('b');
    drive.say({ type: 'pauseSeries', isPaused: false }, 'b');
    await drive.pass(1000);
    expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
    drive.say({ type: 'pauseSeries', isPaused: false });
    await drive.until(() => homes() === 2, 120_000);
    drive.say({ type: 'pauseSeries', isPaused: true });
    await drive.pass(2000);
    drive.say({ type: 'stop' });
    await drive.until(isOver, 10_000);
    const stopped = drive.sent.length;
    drive.say({ type: 'pauseSeries', isPaused: false });
    await drive.pass(2000);
    expect(drive.sent.slice(stopped).filter(isMotionWord)).toEqual([]);
    expect(drive.lastRefusal()).toContain('no homing series under way');
  });

  it('by a controller is noted each time it stands, without a word to the drive, and kept at its end', async () => {
    await enabled(carriageWorld.indexOffset, { by: 'controller' });
    drive.say({ type: 'disable' });
    await drive.until(isOver);
    const { mechanics } = drive.servo;
    const note = async () => {
      drive.say({ type: 'noteHome', version: drive.version() });
      await drive.until(isOver);
    };
    const before = drive.sent.filter(({ request }) => request.kind === 'write').length;
    await note();
    drive.say({ type: 'endSeries', version: drive.version() });
    expect(drive.lastRefusal()).toContain('Note home at least twice');
    // Somebody has turned the shaft a little between two homings.
    mechanics.hand = { turnsLeft: 0.01 };
    await drive.pass(500);
    mechanics.hand = undefined;
    await note();
    mechanics.turnedByHand = 2;
    await drive.pass(300);
    drive.say({ type: 'noteHome', version: drive.version() });
    expect(drive.lastRefusal()).toContain('Wait until it stands');
    mechanics.turnedByHand = 0;
    expect(shown()?.homes).toEqual([0, expect.closeTo(320 / 3 / 100, 0)]);
    expect(drive.sent.filter(({ request }) => request.kind === 'write')).toHaveLength(before);
    drive.say({ type: 'endSeries', version: drive.version() });
    await drive.pass(50);
    expect(proof()).toMatchObject({ payload: { of: 2, by: 'controller', end: 'finished' } });
    drive.say({ type: 'endSeries', version: drive.version() });
    expect(drive.lastRefusal()).toContain('at least twice');
  });

  it('is refused where its starts would leave the soft limits, and moves nothing', async () => {
    await enabled();
    const before = drive.sent.filter(isMotionWord).length;
    say([60, 1900]);
    expect(drive.lastRefusal()).toContain('The start at 1900 mm is outside the soft limits, -8 to 1845 mm');
    say([NaN]);
    expect(drive.lastRefusal()).toContain('outside the soft limits');
    drive.save({ settings: { ...demoAxis.settings, plusSoftLimit: null } });
    await drive.pass(20);
    say([60]);
    expect(drive.lastRefusal()).toContain('Plan both soft limits first');
    expect(drive.sent.filter(isMotionWord).length).toBe(before);
  });

  it('by a controller is left to it', async () => {
    await enabled(carriageWorld.indexOffset, { by: 'controller' });
    say([60]);
    expect(drive.lastRefusal()).toContain('controller homes this axis');
  });

  it('nor is it homed by a method or an offset that the plan cannot give to this drive', async () => {
    drive = simulatedDrive(
      { ...demoAxis, homing: { ...demoAxis.homing, method: 'minusStop', positionAtHome: 5 } },
      { profile: (profile) => ({ ...profile, homing: { methods: { 17: 17 } } }) },
    );
    await drive.enabled();
    const before = drive.sent.filter(isMotionWord).length;
    drive.say({ type: 'home', version: drive.version() });
    expect(drive.lastRefusal()).toContain('has no number in this drive');
    drive.save({ homing: { ...demoAxis.homing, method: 17, positionAtHome: 5 } });
    await drive.pass(20);
    drive.say({ type: 'home', version: drive.version() });
    expect(drive.lastRefusal()).toContain('does not say what the home offset');
    expect(drive.sent.filter(isMotionWord).length).toBe(before);
  });
});
