import { describe, expect, it } from 'vitest';
import { errorCode } from './servoDevice.ts';
import { carriageWorld, makeServo } from '../../index.ts';

const perTurn = carriageWorld.countsPerRevolution;

/** A servo homed where it stands, its encoder telling so many turns apart. */
function homed(encoderTurns: number) {
  const { device } = makeServo({ ...carriageWorld, startCounts: 3 * perTurn });
  const write = (key: string, value: number) => {
    device.parameters.write(key, value);
    device.parametersChanged();
  };
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.02) {
      device.cells().heartbeat?.write?.(1);
      device.advance(0.02);
    }
  };
  const on = () => {
    for (const word of [6, 7, 15]) device.control(word);
  };
  const cyclePower = () => {
    device.control(0);
    pass(0.1);
    device.parameters.store();
    device.restart();
    pass(1.2);
  };
  const turnByHand = (turns: number) => {
    device.mechanics.turnedByHand = turns > 0 ? Math.PI : -Math.PI;
    const before = device.mechanics.servo.actualCounts;
    for (let k = 0; k < 2000 && Math.abs(device.mechanics.servo.actualCounts - before) < Math.abs(turns) * perTurn; k++)
      device.advance(0.004);
    device.mechanics.turnedByHand = 0;
    device.mechanics.servo.motorSpeed = 0;
    device.mechanics.servo.loadSpeed = 0;
  };
  write('encoderTurns', encoderTurns);
  write('commandSource', 1);
  cyclePower();
  write('homingMethod', 37);
  on();
  device.cells().modeOfOperation?.write?.(6);
  device.control(0x1f);
  pass(0.2);
  return { device, write, pass, cyclePower, turnByHand };
}

describe('an absolute encoder', () => {
  it('tells after a power cycle where the shaft was turned meanwhile; an incremental one does not', () => {
    const { device, cyclePower, turnByHand } = homed(4096);
    expect([device.homed, Math.abs(device.mechanics.positionCounts) < 10]).toEqual([true, true]);
    device.control(0);
    device.advance(0.1);
    turnByHand(1);
    const before = device.mechanics.positionCounts;
    expect(before / perTurn).toBeCloseTo(1, 1);
    cyclePower();
    expect([device.homed, device.mechanics.positionCounts - before]).toEqual([true, 0]);

    const plain = homed(0);
    plain.cyclePower();
    expect([plain.device.homed, plain.device.mechanics.positionCounts]).toEqual([false, 0]);
  });

  it('starts over after its turns: beyond them the position is wrong by all of them', () => {
    // It tells 8 turns apart, to both sides of where it was delivered, and stands at the third: two turns on, it has started over.
    const { device, cyclePower, turnByHand } = homed(8);
    device.control(0);
    device.advance(0.1);
    turnByHand(2);
    const before = device.mechanics.positionCounts;
    cyclePower();
    expect(device.homed).toBe(true);
    expect((device.mechanics.positionCounts - before) / perTurn).toBe(-8);
  });

  it('loses home with its battery, and after another gear or sense', () => {
    const { device, cyclePower } = homed(4096);
    device.hasBattery = false;
    cyclePower();
    expect([device.homed, device.error, device.statusword & 0x08]).toEqual([false, errorCode.encoderBattery, 0x08]);

    for (const key of ['gearNumerator', 'rotationSense']) {
      const other = homed(4096);
      other.write(key, key === 'rotationSense' ? 1 : 7);
      other.cyclePower();
      expect(other.device.homed, key).toBe(false);
    }
  });
});
