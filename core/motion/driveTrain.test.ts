import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  accelerationStretches,
  loweringTorque,
  motorTorque,
  moveTorque,
  planMove,
  powerReversals,
  returnedKineticEnergy,
  runningTorque,
  sampleMove,
  moveSample,
  type DriveTrain,
} from './index.ts';

const oneStage = (efficiency: number, backDriveEfficiency = efficiency, inertia = 0) => [
  { efficiency, backDriveEfficiency, inertia },
];
const number = (min: number, max: number) =>
  fc.integer({ min: 0, max: 1_000_000 }).map((share) => min + ((max - min) * share) / 1_000_000);
const trains: fc.Arbitrary<DriveTrain> = fc.record({
  inertia: number(1e-5, 1e-2),
  loadInertia: number(0, 1e-2),
  friction: number(0, 2),
  gravity: number(-3, 3),
  stages: fc.array(
    fc.record({ efficiency: number(0.55, 1), inertia: number(0, 1e-3) }).map((stage) => ({
      ...stage,
      backDriveEfficiency: 2 - 1 / stage.efficiency,
    })),
    { maxLength: 4 },
  ),
});

describe('a drive train', () => {
  it('divides all that the load takes by the efficiency: 3 kg at 5 m/s² and 15 N on a belt of η 0.9', () => {
    // By hand, pulley lever 16.44 mm: (3 · 5 + 15) N · 0.01644 m / 0.9 = 0.548 N·m.
    const lever = 0.01644;
    const train = { inertia: 0, loadInertia: 3 * lever ** 2, friction: 15 * lever, gravity: 0, stages: oneStage(0.9) };
    expect(motorTorque(train, 5 / lever, 1)).toBeCloseTo(0.548, 12);
    // Braking at the same rate friction does it all; power just stops flowing.
    expect(motorTorque(train, -5 / lever, 1)).toBeCloseTo(0, 12);
  });

  it('takes less back than it gave: 2 N·m of gravity through η 0.8', () => {
    const train = { inertia: 0, friction: 0.5, gravity: 2, stages: oneStage(0.8) };
    expect(motorTorque(train, 0, 1)).toBeCloseTo(2.5 / 0.8, 12);
    expect(motorTorque(train, 0, -1)).toBeCloseTo(1.5 * 0.8, 12);
    expect(loweringTorque(train)).toBeCloseTo(1.2, 12);
    expect(runningTorque(train)).toBeCloseTo(3.125, 12);
  });

  it('locks itself on a screw of η 0.4 and takes torque to be lowered: 2 − 1/0.4 = −0.5', () => {
    const train = { inertia: 1e-4, friction: 0, gravity: 2, stages: oneStage(0.4, 2 - 1 / 0.4) };
    expect(motorTorque(train, 0, -1)).toBeCloseTo(-1, 12);
    expect(loweringTorque(train)).toBe(0);
    expect(returnedKineticEnergy({ ...train, loadInertia: 1 }, 10)).toBeCloseTo(0.5 * 1e-4 * 100, 12);
  });

  it('gives back ½·J·ω² of each shaft less what lies on its way', () => {
    const train = {
      inertia: 1,
      loadInertia: 4,
      friction: 0,
      gravity: 0,
      stages: [...oneStage(0.5, 0.5, 2), ...oneStage(0.8, 0.8, 3)],
    };
    // ((4 · 0.5 + 2) · 0.8 + 3 + 1) · ½ · 10²
    expect(returnedKineticEnergy(train, 10)).toBeCloseTo(7.2 * 50, 9);
  });

  it('its accelerations undo its torques, on every stretch', () => {
    fc.assert(
      fc.property(trains, number(-1e4, 1e4), fc.constantFrom(1, -1), (train, acceleration, sense) => {
        const torque = motorTorque(train, acceleration, sense);
        const stretch = accelerationStretches(train, sense).findLast(({ from }) => torque >= from);
        if (!stretch) throw new Error('no stretch');
        expect((torque - stretch.offset) / stretch.inertia).toBeCloseTo(acceleration, 5);
        expect(powerReversals(train, sense).length).toBeLessThanOrEqual(train.stages?.length ?? 0);
      }),
    );
  });

  it('jams where a locked stage cannot slow its load down', () => {
    const train = { inertia: 1e-6, loadInertia: 1, friction: 0, gravity: 0, stages: oneStage(0.3, 2 - 1 / 0.3) };
    expect(() => accelerationStretches(train, 1)).toThrow('jam');
  });
});

describe('torque of a move', () => {
  it('has its RMS speed by hand: a move of jerk alone', () => {
    // Four stretches of 0.1 s at j = 6000: 0, 30, 60 … ∫v² = 552 over 0.4 s; √(552 / 0.4) = 37.148.
    const move = planMove(12, { speed: 1e6, acceleration: 1e6, jerk: 6000 });
    expect(move.duration).toBeCloseTo(0.4, 12);
    const { rmsSpeed } = moveTorque(move, 0, { inertia: 1, friction: 0, gravity: 0, radiansPerUnit: 1 });
    expect(rmsSpeed).toBeCloseTo(Math.sqrt(552 / 0.4), 9);
  });

  it('agrees with a fine sum over time, at any drive train', () => {
    fc.assert(
      fc.property(trains, number(10, 500), fc.option(number(1000, 1e5)), (train, distance, jerk) => {
        const move = planMove(distance, { speed: 300, acceleration: 2000, jerk: jerk ?? undefined });
        const radiansPerUnit = 0.5;
        const got = moveTorque(move, 0.2, { ...train, radiansPerUnit });
        const [steps, sample] = [20_000, moveSample()];
        let [peak, squares, speeds] = [Math.abs(train.gravity), 0, 0];
        for (const direction of [1, -1] as const)
          for (let k = 0; k < steps; k++) {
            sampleMove(move, ((k + 0.5) / steps) * move.duration, sample);
            const torque = motorTorque(train, direction * sample.acceleration * radiansPerUnit, direction);
            peak = Math.max(peak, Math.abs(torque));
            squares += torque ** 2;
            speeds += (sample.speed * radiansPerUnit) ** 2;
          }
        const time = 2 * (move.duration + 0.2);
        const each = move.duration / steps;
        expect(got.rms / Math.sqrt((squares * each + 2 * 0.2 * train.gravity ** 2) / time)).toBeCloseTo(1, 2);
        expect(got.rmsSpeed / Math.sqrt((speeds * each) / time)).toBeCloseTo(1, 5);
        expect(got.peak).toBeGreaterThanOrEqual(peak * (1 - 1e-9));
        expect(got.peak / peak).toBeLessThan(1.01);
      }),
      { numRuns: 40 },
    );
  });
});
