import { carriageWorld } from '@kavrid/bench';
import type { DriveProfile, HomingForm } from '@kavrid/core/drive';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { PersonAtAxis } from '../test/personAtAxis.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

const perMillimetre = (2 ** 20 * 3) / 320;
let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

type Homing = typeof demoAxis.homing;

/** The carriage 40 mm from its minus limit; home reads 12 mm, soft limits are close by; first power is behind. */
async function ready(
  homing: Partial<Homing> = {},
  form: HomingForm = {},
  setUp: Readonly<Record<string, number>> = {},
) {
  drive = simulatedDrive(
    {
      ...demoAxis,
      settings: { ...demoAxis.settings, minusSoftLimit: 15, plusSoftLimit: 90 },
      homing: { ...demoAxis.homing, method: 17, positionAtHome: 12, ...homing },
    },
    {
      world: { ...carriageWorld, startCounts: Math.round(40 * perMillimetre) },
      profile: (profile): DriveProfile => ({ ...profile, homing: { ...profile.homing, ...form } }),
      setUp,
    },
  );
  drive.holdsPlan();
  await drive.connected();
  const person = new PersonAtAxis(drive);
  for (const step of ['hardwareStop', 'standstill', 'jogPlus', 'jogMinus', 'propped']) person.skip(step);
  await drive.pass(20);
  return person;
}

describe('what home reads', () => {
  it('is proven by a homing, and so is the soft limit at which a jog is stopped by the drive', async () => {
    const person = await ready();
    expect(await person.does('homeReads')).toMatchObject({ verdict: 'passed', sign: 'right', known: 'read back' });
    expect(drive.servo.homed).toBe(true);
    expect(await person.does('softLimitPlus')).toMatchObject({ verdict: 'passed', sign: 'stops', known: 'read back' });
    // The drive stands at 90 mm of its own reading, whose home is at the minus limit.
    expect(drive.servo.mechanics.loadCounts / perMillimetre).toBeCloseTo(90 - 12, 0);
    expect(drive.temporary().map(({ key }) => key)).toEqual(['commandSource']);
  });

  it('with the other meaning than the map says is found, not proven', async () => {
    const person = await ready({}, { homeOffset: 'home reads the offset' });
    expect(await person.does('homeReads')).toMatchObject({ verdict: 'failed', sign: 'opposite' });
    // Nothing is moved towards a soft limit that is not where it seems.
    expect(await person.does('softLimitPlus')).toBeUndefined();
    expect(drive.lastRefusal()).toContain('“What home reads”');
  });

  it('soft limits that count from elsewhere than the map says are found', async () => {
    const person = await ready({}, { softLimitsFrom: 'home' });
    await person.does('homeReads');
    expect(await person.does('softLimitPlus')).toMatchObject({ verdict: 'failed', sign: 'from home' });
  });

  it('a soft limit needs a homed axis, and a homing that its map cannot give to the drive is refused', async () => {
    const person = await ready();
    person.skip('homeReads');
    expect(await person.does('softLimitMinus')).toBeUndefined();
    expect(drive.lastRefusal()).toContain('Home the axis first');
    drive.end();
    const other = await ready({ method: 5 }, { methods: { 17: 17 } });
    expect(await other.does('homeReads')).toBeUndefined();
    expect(drive.lastRefusal()).toContain('no number in this drive');
    expect(drive.speed()).toBe(0);
  });

  it('goes out of date with the plan of the homing, and leaves first power as it is', async () => {
    const person = await ready();
    await person.does('homeReads');
    drive.save({ homing: { ...demoAxis.homing, method: 17, positionAtHome: 13 } } as never);
    await drive.pass(20);
    expect(person.result('homeReads')).toBeUndefined();
    expect(person.result('jogPlus')).toBeDefined();
  });
});

describe('the position after a power cycle', () => {
  const absolute = { turns: 4096, counts: 'from zero', turnsAtHome: null, hasBattery: true } as const;
  const atRest = () =>
    drive.until(() => !drive.mailbox.state.stop && !drive.mailbox.state.script && !drive.mailbox.state.recording);
  const home = async () => {
    drive.say({ type: 'enable', version: drive.version(), isPropped: true });
    await drive.until(() => drive.mailbox.state.permits.enable !== undefined);
    drive.say({ type: 'home', version: drive.version() });
    await drive.until(() => drive.servo.homed && drive.mailbox.state.script === undefined);
    drive.say({ type: 'disable' });
    await atRest();
  };

  it('is the same with an absolute encoder, and home is lost with a flat battery or an incremental one', async () => {
    for (const [encoderTurns, hasBattery, verdict] of [
      [4096, true, 'kept'],
      [4096, false, 'lost'],
      [0, true, 'lost'],
    ] as const) {
      const person = await ready({ absolute }, {}, { encoderTurns });
      await home();
      drive.servo.hasBattery = hasBattery;
      expect(await person.does('powerCycle'), `${encoderTurns} ${hasBattery}`).toMatchObject({
        sign: verdict,
        known: 'read back',
      });
      drive.end();
    }
  });

  it('is off by all turns where the encoder starts over within the travel', async () => {
    const person = await ready({ absolute }, {}, { encoderTurns: 1 });
    drive.save({ testMove: { ...demoAxis.testMove, from: 80, distance: 5 } } as never);
    await drive.pass(20);
    await home();
    drive.say({ type: 'enable', version: drive.version(), isPropped: true });
    await drive.until(() => drive.mailbox.state.permits.enable !== undefined);
    drive.say({ type: 'goToStart', version: drive.version() });
    await drive.until(() => drive.mailbox.state.script === undefined, 60_000);
    drive.say({ type: 'disable' });
    await atRest();
    // A turn is 107 mm, half of it to each side of the minus limit; it stands 68 mm from there.
    expect(await person.does('powerCycle')).toMatchObject({ sign: 'turns' });
  });

  it('says nothing where the power was not off, and ends when the user disconnects', async () => {
    const person = await ready({ absolute }, {}, { encoderTurns: 4096 });
    await home();
    drive.say({ type: 'beginStep', version: drive.version(), step: 'powerCycle', isByHand: false, given: {} });
    await drive.pass(2000);
    person.answer('powerCycle', 'done');
    await drive.pass(50);
    expect(person.result('powerCycle')).toMatchObject({ verdict: 'undecided' });
    drive.say({ type: 'beginStep', version: drive.version(), step: 'powerCycle', isByHand: false, given: {} });
    drive.say({ type: 'disconnect' });
    await drive.pass(500);
    expect(drive.mailbox.state.guided?.phase).toBe('over');
  });
});
