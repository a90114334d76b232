import { carriageWorld, type AxisWorld } from '@kavrid/bench';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { PersonAtAxis } from '../test/personAtAxis.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

// The plates of the demo, without losses, so that closed forms of uniform deceleration hold by hand: 45 N and 8 kg at a radius of
// 160/(3·π) mm a third of a turn, 2.39 N·m rated.
const friction = 0.764;
const inertia = 0.0028;
const world = {
  ...carriageWorld,
  coulombFriction: friction,
  viscousFriction: 0,
  stages: [],
  rotorInertia: 1.6e-4,
  loadInertia: inertia - 1.6e-4,
};
/** mm a radian of the motor: 320 mm in three turns */
const perRadian = 320 / 3 / (2 * Math.PI);

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

/** Homed in the middle of its travel, with the steps of the first power behind it. */
async function ready(more: Partial<AxisWorld> = {}) {
  drive = simulatedDrive(
    { ...demoAxis, homing: { ...demoAxis.homing, method: 37 } },
    { world: { ...world, ...more, startCounts: Math.round((carriageWorld.plusLimit as number) / 2) } },
  );
  await drive.enabled();
  drive.say({ type: 'home', version: 1 });
  await drive.until(() => drive.mailbox.state.status?.values.homed === 1 && drive.mailbox.state.script === undefined);
  drive.say({ type: 'disable' });
  await drive.until(() => drive.mailbox.state.stop === undefined && drive.mailbox.state.recording === undefined);
  const person = new PersonAtAxis(drive);
  for (const step of ['hardwareStop', 'standstill', 'jogPlus', 'jogMinus']) person.skip(step);
  return person;
}

const value = (result: Awaited<ReturnType<PersonAtAxis['does']>>, label: string) =>
  result?.values.find((each) => each.label === label)?.value ?? NaN;

/** mm/s and s: the demand is ahead of the axis by (1 − feedforward)/gain, which it makes up while it stops. */
const speed = 500;
const lag = (1 - 0.85) / 40;
/** The simulated world goes on in steps of 4 ms, and so does what it is told. */
const worldStep = 0.004;

describe('stops are measured, and agree with uniform deceleration', () => {
  it.each([
    // s = v²/(2·a); a: 1000 mm/s² of a jog, 8000 mm/s² of the quick stop, friction over inertia T/J of a coasting axis.
    ['stopRamp', speed ** 2 / (2 * 1000) + speed * lag],
    ['stopQuick', speed ** 2 / (2 * 8000) + speed * lag],
    ['stopCoast', speed ** 2 / (2 * (friction / inertia) * perRadian)],
    // The watchdog of 200 ms begins with the last heartbeat, up to 40 ms before the order to withhold them.
    ['stopLink', speed ** 2 / (2 * 8000) + speed * (lag + 0.18)],
  ] as const)('%s', async (step, distance) => {
    const person = await ready();
    const result = await person.does(step, { speed });
    expect(result).toMatchObject({ verdict: 'passed', known: 'read back' });
    expect(value(result, 'From')).toBeCloseTo(speed, -1);
    const timing = speed * (step === 'stopLink' ? 0.02 + worldStep : worldStep);
    expect(Math.abs(value(result, 'Distance') - distance)).toBeLessThan(0.02 * distance + timing);
    expect(drive.temporary().map(({ key }) => key)).toEqual(['commandSource']);
  });

  it.each(['stopTorqueOff', 'stopSupply'])('%s is made by a hand, and coasts as far', async (step) => {
    const person = await ready();
    const result = await person.does(step, { speed });
    const distance = speed ** 2 / (2 * (friction / inertia) * perRadian);
    expect(result?.verdict).toBe('passed');
    // It was seen between two looks, 25 ms apart.
    expect(Math.abs(value(result, 'Distance') - distance)).toBeLessThan(0.02 * distance + speed * 0.02);
  });

  it('one that takes longer than the plates say fails, and so does one that needs more room than there is', async () => {
    const light = await ready({ coulombFriction: friction / 2 });
    expect(await light.does('stopCoast', { speed })).toMatchObject({ verdict: 'failed', sign: 'longer' });
    expect(await light.does('stopLimit', { speed: 100, room: 0.1 })).toMatchObject({
      verdict: 'failed',
      sign: 'too far',
    });
  });

  it('is refused where the axis has not homed, has too little room, or would be faster than it can', async () => {
    const person = await ready();
    for (const [given, because] of [
      [{}, 'Enter the speed'],
      [{ speed: 1e6 }, 'above the highest speed'],
      [{ speed: 1500 }, 'to the soft limit'],
    ] as const) {
      expect(await person.does('stopTorqueOff', given)).toBeUndefined();
      expect(drive.lastRefusal()).toContain(because);
      expect(drive.speed()).toBe(0);
    }
    drive.registers.device.restart();
    await drive.pass(3000);
    expect(await person.does('stopRamp', { speed })).toBeUndefined();
    expect(drive.lastRefusal()).toContain('Home the axis first');
  });
});
