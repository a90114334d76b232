import { secondPlant } from '@kavrid/bench';
import { moveChannels } from '@kavrid/contract';
import { readMove, trialHalves } from '@kavrid/core/tuning';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { isMotionWord, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

type Axis = typeof demoAxis;
const better = { positionGain: 60, velocityFeedforward: 98, accelerationFeedforward: 100 } as const;
const noTrial = Object.fromEntries(Object.keys(demoAxis.tuning.trial).map((role) => [role, null]));
const tried = (trial: Partial<Axis['tuning']['trial']>, settings: Partial<Axis['settings']> = {}): Axis => ({
  ...demoAxis,
  testMove: { ...demoAxis.testMove, from: 30, distance: 300, repeats: 1, dwell: 0.1 },
  settings: { ...demoAxis.settings, accelerationFeedforward: 0, ...settings },
  tuning: { ...demoAxis.tuning, trial: { ...noTrial, ...trial } as Axis['tuning']['trial'] },
});

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});
const value = (key: string) => drive.servo.parameters.value(key);
const idle = (most = 120_000) =>
  drive.until(() => drive.mailbox.state.script === undefined && !drive.mailbox.state.recording, most);
const tryGains = (isMeant = false) =>
  drive.say({ type: 'makeMove', version: drive.version(), order: { kind: 'trial', isMeant } });
const onTrial = () => drive.temporary().filter(({ key }) => key in better);

/** Homed, at the start of its test move. */
async function atStart(document: Axis, options: Parameters<typeof simulatedDrive>[1] = {}): Promise<void> {
  drive = simulatedDrive(document, options);
  await drive.enabled();
  drive.say({ type: 'home', version: 1 });
  await idle();
  drive.say({ type: 'goToStart', version: 1 });
  await idle();
}
const refused = async (words: string | RegExp, isMeant = false) => {
  const at = drive.sent.length;
  tryGains(isMeant);
  expect(drive.lastRefusal()).toMatch(words);
  await drive.pass(300);
  expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
};
const peaks = () => {
  const halves = trialHalves(moveChannels(drive.lastTrace()));
  return halves && [halves.before, halves.after].map((half) => readMove(half, [], undefined)?.peakError ?? NaN);
};

describe('a trial of gains', () => {
  it.each([
    ['the plant', {}],
    ['the second plant', { makePlant: secondPlant }],
  ])(
    'moves with the planned gains, then with those tried, in one recording: %s',
    { timeout: 60_000 },
    async (_, by) => {
      await atStart(tried(better), by);
      tryGains();
      await drive.until(() => drive.mailbox.state.progress === 'With the planned gains');
      expect(value('positionGain')).toBe(40);
      await drive.until(() => drive.mailbox.state.progress === 'With the trial gains', 20_000);
      expect(value('positionGain')).toBe(60);
      await idle();
      expect(drive.runs.at(-1)).toMatchObject({ kind: 'gain trial', end: 'finished' });
      const [before = NaN, after = NaN] = peaks() ?? [];
      expect(after).toBeLessThan(0.4 * before);
      // They are temporary: in the list with what was there, in the running copy alone, and gone with the motor.
      expect(onTrial().map(({ key, original, temporary }) => [key, original, temporary])).toEqual([
        ['positionGain', 400, 600],
        ['velocityFeedforward', 850, 980],
        ['accelerationFeedforward', 0, 1000],
      ]);
      drive.say({ type: 'disable' });
      await drive.until(() => onTrial().length === 0);
      expect([value('positionGain'), value('velocityFeedforward'), value('accelerationFeedforward')]).toEqual([
        40, 85, 0,
      ]);
    },
  );

  it('is put back with the motor on, or kept when the plan takes it over; a second trial begins from the plan', async () => {
    await atStart(tried(better));
    tryGains();
    await idle();
    expect(value('positionGain')).toBe(60);
    drive.say({ type: 'putBackGains', version: 1 });
    await drive.until(() => onTrial().length === 0 && drive.mailbox.state.script === undefined);
    expect(value('positionGain')).toBe(40);
    expect(drive.servo.state).toBe('operation enabled');
    drive.say({ type: 'putBackGains', version: 1 });
    expect(drive.lastRefusal()).toMatch('The drive holds no trial gains');
    tryGains();
    await idle();
    // Another value is tried: what was tried before goes back first.
    drive.save(tried({ positionGain: 50 }));
    tryGains();
    await drive.until(() => drive.mailbox.state.progress === 'With the planned gains');
    expect([value('positionGain'), value('velocityFeedforward')]).toEqual([40, 85]);
    await idle();
    expect([value('positionGain'), value('velocityFeedforward')]).toEqual([50, 85]);
    const writes = drive.sent.filter(({ key }) => key === 'positionGain').length;
    drive.save(tried({ positionGain: 50 }, { positionGain: 50 }));
    await drive.until(() => onTrial().length === 0);
    drive.say({ type: 'disable' });
    await drive.pass(4000);
    expect(value('positionGain')).toBe(50);
    expect(drive.sent.filter(({ key }) => key === 'positionGain')).toHaveLength(writes);
    expect(drive.mailbox.state.reading?.running.positionGain).toBe(500);
    expect(drive.mailbox.state.reading?.stored?.positionGain).toBe(400);
  });

  it.each([
    [{ speedBandwidth: 4000, positionGain: 900 }, {}, /By the model these gains are unstable/],
    [{}, {}, 'Enter at least one trial gain'],
    [{ positionGain: 40 }, {}, 'Enter at least one trial gain'],
    [{ positionGain: 5000 }, {}, /positionGain|Position loop gain/],
    [{ positionGain: 50 }, { inertiaRatio: null }, /Whether these gains are stable is not known/],
  ] as const)('is refused before anything is written: %j', async (trial, settings, words) => {
    await atStart(tried(trial, settings));
    await refused(words, words instanceof RegExp && words.source.startsWith('positionGain'));
    expect(onTrial()).toEqual([]);
  });

  it('is refused away from the start, without a parameter for it, and where the drive does not hold the plan', async () => {
    drive = simulatedDrive(tried(better));
    await drive.enabled();
    await refused('Home the axis first');
    drive.say({ type: 'home', version: 1 });
    await idle();
    await refused(/away from the start of the test move/);
    drive.end();
    await atStart(tried(better), {
      profile: (profile) => ({
        ...profile,
        parameters: profile.parameters.filter(({ role }) => role !== 'accelerationFeedforward'),
      }),
    });
    await refused(/no parameter with the role accelerationFeedforward/);
    drive.end();
    await atStart(tried(better));
    drive.servo.parameters.write('positionGain', 300);
    drive.servo.parametersChanged();
    tryGains();
    await drive.until(() => drive.lastRefusal() !== undefined);
    expect(drive.lastRefusal()).toMatch('Position loop gain is 30 1/s in the drive and 40 1/s in the plan');
    await drive.pass(300);
    expect(drive.speed()).toBeLessThan(1000);
  });

  it('unstable gains that are meant are tried, and a stop puts them back', { timeout: 60_000 }, async () => {
    await atStart(tried({ speedBandwidth: 5000, positionGain: 900, speedIntegralTime: 1 }));
    tryGains(true);
    await drive.until(() => drive.mailbox.state.progress === 'With the trial gains', 30_000);
    await drive.pass(300);
    expect([value('speedBandwidth'), value('positionGain')]).toEqual([5000, 900]);
    drive.say({ type: 'stop' });
    await drive.until(() => drive.temporary().every(({ key }) => key === 'commandSource'));
    expect(drive.speed()).toBeLessThan(1000);
    expect(drive.servo.state).not.toBe('operation enabled');
    expect([value('speedBandwidth'), value('positionGain')]).toEqual([260, 40]);
  });

  it(
    'gains with which the axis overshoots its following-error window end in its alarm',
    { timeout: 60_000 },
    async () => {
      await atStart(tried({ speedBandwidth: 3, positionGain: 400, speedIntegralTime: 2 }));
      tryGains(true);
      await drive.until(() => drive.servo.state === 'fault', 60_000);
      expect(value('speedBandwidth')).toBe(3);
      await drive.until(() => drive.runs.at(-1)?.kind === 'gain trial');
      expect(drive.runs.at(-1)?.end).toBe('fault');
      expect(drive.runs.at(-1)?.because).toMatch('The following error exceeded its window');
      await drive.until(() => drive.temporary().every(({ key }) => key === 'commandSource'));
      expect([value('speedBandwidth'), value('positionGain')]).toEqual([260, 40]);
    },
  );

  const ends = {
    stop: () => drive.say({ type: 'stop' }),
    'closed window': () => drive.leave(),
    'lost link': () => drive.cut(),
    'silent window': () => drive.silence(),
    'killed server': () => drive.serverKilled(),
  } as const;
  it.each(Object.keys(ends) as (keyof typeof ends)[])(
    'ended with the trial gains in the drive, by %s: the axis is still, the gains are as planned, the recording is kept',
    { timeout: 60_000 },
    async (end) => {
      await atStart(tried(better), { delay: 10 });
      tryGains();
      await drive.until(() => drive.mailbox.state.progress === 'With the trial gains', 30_000);
      await drive.pass(120);
      ends[end]();
      await drive.pass(4000);
      expect(drive.speed()).toBeLessThan(1000);
      expect(drive.servo.state).not.toBe('operation enabled');
      await drive.until(() => drive.mailbox.state.recording === undefined);
      await drive.pass(50);
      if (end !== 'killed server') expect(drive.runs.at(-1)).toMatchObject({ kind: 'gain trial' });
      drive.come();
      if (drive.mailbox.state.link === 'off') {
        await drive.until(() => drive.mailbox.state.plan !== undefined);
        drive.say({ type: 'connect', version: 1 });
      }
      await drive.until(
        () => drive.mailbox.state.link === 'up' && drive.mailbox.state.lookUp === undefined && onTrial().length === 0,
      );
      expect([value('positionGain'), value('velocityFeedforward'), value('accelerationFeedforward')]).toEqual([
        40, 85, 0,
      ]);
    },
  );
});
