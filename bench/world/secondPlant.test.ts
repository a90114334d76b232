import { describe, expect, it } from 'vitest';
import { makeServo } from '../devices/servo/servoDevice.ts';
import { makeHost } from '../host/host.ts';
import { corePlant } from './axisPlant.ts';
import { carriageWorld } from './demoCell.ts';
import { secondPlant } from './secondPlant.ts';

const perMillimetre = (2 ** 20 * 3) / 320;
const settings = {
  gearNumerator: 12288,
  gearDenominator: 125,
  inertiaRatio: 1400,
  speedBandwidth: 2600,
  velocityFeedforward: 850,
  followingErrorWindow: Math.round(15 * perMillimetre),
};

const axis = (makePlant: typeof corePlant) => {
  const servo = makeServo({ ...carriageWorld, startCounts: Math.round(900 * perMillimetre) }, {}, makePlant).device;
  const host = makeHost(servo).device;
  for (const [key, raw] of Object.entries(settings)) servo.parameters.write(key, raw);
  Object.assign(servo.parameters.running, servo.parameters.written);
  servo.parametersChanged();
  host.parameters.write('speed', 800_000);
  host.parameters.write('acceleration', 4_000_000);
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.004) {
      host.advance(0.004);
      servo.advance(0.004);
    }
  };
  servo.terminals.outputs.set('controller: servo on', true);
  pass(0.05);
  return { servo, host, pass, mechanics: servo.mechanics };
};

/** A move of 300 mm at 800 mm/s: peak torque, torque at speed, following error at speed, where it comes to rest. */
const moved = (makePlant: typeof corePlant) => {
  const { host, pass, mechanics } = axis(makePlant);
  const start = mechanics.loadCounts;
  host.moveBy(300);
  let peak = 0;
  for (let t = 0; t < 0.18; t += 0.004) {
    pass(0.004);
    peak = Math.max(peak, Math.abs(mechanics.torque));
  }
  pass(0.1);
  let [steady, lag] = [0, 0];
  for (let k = 0; k < 10; k++) {
    pass(0.004);
    steady += mechanics.torque / 10;
    lag += mechanics.followingErrorCounts / perMillimetre / 10;
  }
  pass(0.8);
  return { peak, steady, lag, travel: (mechanics.loadCounts - start) / perMillimetre };
};

describe('the second plant', () => {
  it('agrees with that of the predictions where both model the same: travel, lag, torque', () => {
    const [ours, other] = [moved(corePlant), moved(secondPlant)];
    // What friction leaves twisted between motor and load: 1 N·m on 85 N·m/rad is 0.2 mm.
    expect(other.travel).toBeCloseTo(300, 0);
    // v · (1 − feedforward) / gain: 800 · 0.15 / 40 = 3 mm, on either.
    for (const { lag } of [ours, other]) expect(lag).toBeCloseTo(3, 0);
    expect(other.lag / ours.lag).toBeCloseTo(1, 1);
    expect(other.steady / ours.steady).toBeCloseTo(1, 0);
    expect(other.peak / ours.peak).toBeGreaterThan(0.8);
    expect(other.peak / ours.peak).toBeLessThan(1.35);
  });

  it('is a plant of its own: two masses ring where the other is rigid', () => {
    const ripple = (makePlant: typeof corePlant) => {
      const { host, pass, mechanics } = axis(makePlant);
      host.moveBy(300);
      pass(0.25);
      const torques = Array.from({ length: 200 }, () => {
        pass(0.0005);
        return mechanics.torque;
      });
      const mean = torques.reduce((sum, each) => sum + each, 0) / torques.length;
      return Math.max(...torques.map((each) => Math.abs(each - mean)));
    };
    expect(ripple(secondPlant)).not.toBeCloseTo(ripple(corePlant), 3);
  });

  it('stands still with the motor off, homes where the standard says, and trips when its encoder counts backwards', () => {
    const { servo, pass, mechanics } = axis(secondPlant);
    servo.terminals.outputs.set('controller: servo on', false);
    pass(0.3);
    const before = mechanics.positionCounts;
    pass(0.5);
    expect(mechanics.positionCounts).toBe(before);
    servo.parameters.write('commandSource', 1);
    for (const [key, value] of [
      ['homingMethod', 1],
      ['homingSearchSpeed', Math.round(200 * perMillimetre)],
      ['homingCreepSpeed', Math.round(20 * perMillimetre)],
      ['homingAcceleration', Math.round(2000 * perMillimetre)],
    ] as const)
      servo.parameters.write(key, value);
    const cells = servo.cells();
    for (const word of [6, 7, 15]) servo.control(word);
    cells.modeOfOperation?.write?.(6);
    servo.control(0x1f);
    for (let t = 0; t < 14 && !servo.homed; t += 0.1) {
      cells.heartbeat?.write?.(1);
      pass(0.1);
    }
    expect(servo.homed).toBe(true);
    // The index pulse that comes after the minus limit; the load is twisted against the motor by up to 0.2 mm.
    const latched = mechanics.loadCounts - mechanics.positionCounts;
    expect(Math.abs(latched - carriageWorld.indexOffset) / perMillimetre).toBeLessThan(0.3);
    servo.control(0);
    pass(0.5);
    servo.parameters.write('commandSource', 0);
    mechanics.exchange('encoder', -1);
    servo.terminals.outputs.set('controller: servo on', true);
    for (let t = 0; t < 5 && servo.state !== 'fault'; t += 0.1) {
      servo.pulses.arrive(Uint8Array.of(2, 3, 2, 3, 2));
      pass(0.1);
    }
    expect([servo.state, servo.error]).toEqual(['fault', 0x8611]);
  });
});
