import { describe, expect, it } from 'vitest';
import { makePwmHost, pwmHostMapPath } from '../../host/pwmHost.ts';
import { pumpWorld } from '../../world/demoCell.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { makeBrushless } from './brushlessDevice.ts';

const addressIn = (map: ReturnType<typeof readRegisterMap>) => (key: string) =>
  [...map.registers, ...map.parameters].find((each) => each.key === key)?.address ?? Number.NaN;
const ofDrive = addressIn(readRegisterMap(mapPath('brushless')));
const ofHost = addressIn(readRegisterMap(pwmHostMapPath));

function bench() {
  const drive = makeBrushless(pumpWorld);
  const host = makePwmHost(drive.device);
  const pass = (seconds: number) => drive.device.advance(seconds);
  const send = (key: 'enable' | 'duty' | 'volts', value: number) => host.write(ofHost(key), [value]);
  const set = (key: string, value: number) =>
    expect(drive.write(ofDrive(key), [(value >> 16) & 0xffff, value & 0xffff])).toBeUndefined();
  const word = (key: string) => {
    const words = drive.read(ofDrive(key), 1);
    return typeof words === 'string' ? Number.NaN : (words[0] ?? Number.NaN);
  };
  /** The scale of the demo: 5 to 95 % of 1023 are 0 to 3000 rpm. */
  const scale = () => {
    set('rawNumerator', 10_000);
    set('rawDenominator', 3069);
    set('rawOffset', -167);
  };
  return { device: drive.device, drive, host, pass, send, set, word, scale };
}

describe('a brushless controller', () => {
  it.each([
    [5, 0],
    [23, 600],
    [50, 1500],
    [95, 3000],
  ])('at a duty cycle of %i %% turns at %i rpm, as far as a step of its input is fine', (duty, rpm) => {
    const { device, scale, send, pass } = bench();
    scale();
    send('duty', 100 * duty);
    send('enable', 1);
    pass(3);
    // By hand: 3000 rpm over 90 % of 1023 steps are 3.26 rpm a step.
    expect(Math.abs(device.speedRpm - rpm)).toBeLessThan(3.3);
    expect(device.pwmRaw).toBe(Math.round((duty / 100) * 1023));
  });

  it('at a voltage turns at its share of the speed at 10 V, less its offset; a duty cycle says nothing then', () => {
    const { device, host, send, set, pass } = bench();
    for (const [key, raw] of [
      ['signalSource', 1],
      ['signalFullValue', 3000],
      ['signalOffset', 200],
      ['signalLossTrips', 1],
    ] as const)
      set(key, raw);
    send('volts', 5200);
    send('enable', 1);
    pass(3);
    // (5.2 − 0.2) / 10 · 3000
    expect(device.speedRpm).toBeCloseTo(1500, 0);
    expect(device.state).toBe('operation enabled');
    expect(host.write(ofHost('volts'), [10_001])).toBe('illegal value');
    // Below its offset it stands: it turns one way only.
    send('volts', 0);
    pass(3);
    expect(device.speedRpm).toBe(0);
  });

  it('reaches its speed no sooner than its torque allows, and coasts as its friction says', () => {
    const { device, scale, send, pass, set } = bench();
    scale();
    set('torqueLimit', 1000);
    send('duty', 9500);
    send('enable', 1);
    pass(0.02);
    // α = (T − friction) / J, with viscous friction on top.
    const { ratedTorque, coulombFriction, inertia, viscousFriction } = pumpWorld;
    const most = (((ratedTorque - coulombFriction) / inertia) * 0.02 * 30) / Math.PI;
    expect(device.speedRpm).toBeLessThan(most);
    expect(device.speedRpm).toBeGreaterThan(0.8 * most);
    pass(3);
    send('enable', 0);
    pass(0.002);
    const before = (device.speedRpm * Math.PI) / 30;
    pass(0.02);
    // ω(t) = (ω₀ + Tc/b)·exp(−b·t/J) − Tc/b
    const ratio = coulombFriction / viscousFriction;
    const after = (before + ratio) * Math.exp((-viscousFriction * 0.02) / inertia) - ratio;
    expect((device.speedRpm * Math.PI) / 30 / after).toBeCloseTo(1, 2);
  });

  it('without a signal stands, or trips where it is set to; its alarm reaches the board', () => {
    for (const trips of [0, 1]) {
      const { device, host, scale, send, pass, set, word, drive } = bench();
      scale();
      set('signalLossTrips', trips);
      send('duty', 5000);
      send('enable', 1);
      pass(1);
      expect(word('outputStates')).toBe(7);
      device.line.isBroken = true;
      pass(2);
      expect(device.state).toBe(trips ? 'fault' : 'operation enabled');
      expect(device.speedRpm).toBe(0);
      expect(host.read(ofHost('alarm'), 1)).toEqual([trips]);
      device.line.isBroken = false;
      drive.write(ofDrive('controlword'), [0x80]);
      pass(1);
      expect(device.speedRpm).toBeGreaterThan(1400);
    }
  });

  it('a level that never changes is no signal; the bus neither enables nor disables it', () => {
    const { device, drive, scale, send, pass } = bench();
    scale();
    for (const command of [6, 7, 15]) drive.write(ofDrive('controlword'), [command]);
    expect(device.isRunning).toBe(false);
    send('enable', 1);
    for (const duty of [0, 10_000]) {
      send('duty', duty);
      pass(1);
      expect(device.speedRpm).toBe(0);
    }
    expect(send('duty', 10_001)).toBe('illegal value');
    send('duty', 5000);
    pass(1);
    drive.write(ofDrive('controlword'), [0]);
    pass(0.1);
    expect(device.isRunning).toBe(true);
  });
});
