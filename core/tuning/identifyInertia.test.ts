import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import { runMoves, thereAndBack } from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { identifyInertia } from './index.ts';

/** mm, with a lead of 10 mm. */
const unitsPerCount = 10 / smoothServo.countsPerRevolution;

/** Moves of the plant, back and forth, with what was really put into it, in % per unit. */
function moved(change: Partial<typeof smoothServo>, acceleration = 4000) {
  const servo = { ...smoothServo, gearNumerator: 1, gearDenominator: 1, ...change };
  const limits = { speed: 400, acceleration, jerk: undefined };
  const [there, back] = [planMove(300, limits), planMove(-300, limits)];
  const moves = thereAndBack(there, back, 0.2, 2);
  const { recording, tripped } = runMoves({
    servo,
    moves,
    duration: 2 * (there.duration + back.duration + 0.4),
    start: 0,
    unitsPerCount,
    stepsPerUnit: 1 / unitsPerCount,
    recordPeriod: 0.001,
    pulses: false,
  });
  const radiansPerUnit = (2 * Math.PI) / (servo.countsPerRevolution * unitsPerCount);
  const percent = 100 / servo.ratedTorque;
  return {
    recording,
    tripped,
    wanted: {
      // A stage makes the load heavier to accelerate and lighter to brake, by its efficiency.
      inertia: (efficiency: number) => (servo.rotorInertia + servo.loadInertia * efficiency) * radiansPerUnit * percent,
      coulomb: servo.coulombFriction * percent,
      gravity: servo.gravityTorque * percent,
    },
  };
}

describe('inertia and friction from moves', () => {
  it('come out within 3 % of what the motor feels, over random axes with friction, gravity and losses', () => {
    const plant = fc.record({
      ratio: fc.double({ min: 0.5, max: 10, noNaN: true }),
      coulomb: fc.double({ min: 0, max: 0.3, noNaN: true }),
      viscous: fc.double({ min: 0, max: 1e-3, noNaN: true }),
      gravity: fc.double({ min: -0.2, max: 0.2, noNaN: true }),
      efficiency: fc.double({ min: 0.85, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(plant, ({ ratio, coulomb, viscous, gravity, efficiency }) => {
        const loadInertia = ratio * smoothServo.rotorInertia;
        const { recording, tripped, wanted } = moved({
          loadInertia,
          coulombFriction: coulomb * smoothServo.ratedTorque,
          viscousFriction: viscous,
          gravityTorque: gravity * smoothServo.ratedTorque,
          stages: [{ efficiency, backDriveEfficiency: efficiency, inertia: 0 }],
          assumedInertiaRatio: ratio,
        });
        expect(tripped).toBe(false);
        const found = identifyInertia(recording, 100 * smoothServo.torqueLimit);
        expect(found).toBeDefined();
        const inertia = found?.torquePerAcceleration ?? 0;
        expect(inertia).toBeGreaterThan(0.97 * wanted.inertia(efficiency));
        expect(inertia).toBeLessThan(1.03 * wanted.inertia(1 / efficiency));
        expect(found?.explained).toBeGreaterThan(0.9);
      }),
      { seed: 20261130, numRuns: process.env.KAVRID_PROOF ? 500 : 25 },
    );
  });

  it('friction and gravity are told apart by moving both ways', () => {
    const { recording, wanted } = moved({
      coulombFriction: 0.2 * smoothServo.ratedTorque,
      gravityTorque: 0.1 * smoothServo.ratedTorque,
      stages: [],
    });
    const found = identifyInertia(recording, undefined);
    expect(found?.coulombTorque).toBeCloseTo(wanted.coulomb, -0.5);
    expect(found?.gravityTorque).toBeCloseTo(wanted.gravity, -0.5);
    expect(found?.torquePerAcceleration).toBeCloseTo(wanted.inertia(1), 2);
    expect(found?.uncertainty).toBeLessThan(0.05);
  });

  it('nothing is said of a move that does not accelerate enough, nor of one at its torque limit', () => {
    const { recording } = moved({});
    expect(identifyInertia({ ...recording, actualSpeed: new Float64Array(5000) }, undefined)).toBeUndefined();
    expect(identifyInertia({ ...recording, actualSpeed: new Float64Array(5000).fill(100) }, undefined)).toBeUndefined();
    expect(identifyInertia({ ...recording, torque: new Float64Array(5000).fill(100) }, 100)).toBeUndefined();
  });
});
