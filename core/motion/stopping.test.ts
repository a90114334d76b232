import { describe, expect, it } from 'vitest';
import { runawayAtRest, stopping } from './stopping.ts';
import type { DriveTrain } from './driveTrain.ts';

const plain: DriveTrain = { inertia: 0.002, friction: 0.2, gravity: 0 };
const axis = { train: plain, speed: 50, sense: 1 } as const;

// Closed forms of uniform deceleration: t = v/a, s = v²/(2a); J·α = ΣT.
describe('stopping', () => {
  it('coasts against its friction: 0.2 N·m on 0.002 kg·m² are 100 rad/s², so 50 rad/s stop in 0.5 s and 12.5 rad', () => {
    const stop = stopping(axis, [{ seconds: Infinity, by: { torque: 0 } }]);
    expect(stop?.time).toBeCloseTo(0.5, 9);
    expect(stop?.distance).toBeCloseTo(12.5, 9);
  });

  it('runs on until the stop is heeded, then along its ramp', () => {
    const stop = stopping(axis, [
      { seconds: 0.02, by: 'nothing yet' },
      { seconds: Infinity, by: { deceleration: 250, torqueLimit: 1 } },
    ]);
    // 50 · 0.02 + 2500/500 = 1 + 5 rad.
    expect(stop?.distance).toBeCloseTo(6, 9);
    expect(stop?.time).toBeCloseTo(0.22, 9);
    expect(stop?.isTorqueLimited).toBe(false);
  });

  it('takes longer than the ramp where the torque limit does not give it: 0.3 N·m and friction are 250 rad/s²', () => {
    const stop = stopping(axis, [{ seconds: Infinity, by: { deceleration: 1000, torqueLimit: 0.3 } }]);
    expect(stop?.distance).toBeCloseTo(2500 / 500, 9);
    expect(stop?.isTorqueLimited).toBe(true);
  });

  it('coasts until the holding brake has shut, then brakes with it', () => {
    const stop = stopping(axis, [
      { seconds: 0.1, by: { torque: 0 } },
      { seconds: Infinity, by: { torque: 0.6 } },
    ]);
    // 50 → 40 rad/s in 0.1 s over 4.5 rad; then 400 rad/s²: 1600/800 = 2 rad.
    expect(stop?.distance).toBeCloseTo(6.5, 9);
    expect(stop?.time).toBeCloseTo(0.2, 9);
  });

  it('a load that gravity drives does not stop by coasting down, and stops sooner going up', () => {
    const lift: DriveTrain = { inertia: 0.002, friction: 0.1, gravity: 0.3 };
    const coast = [{ seconds: Infinity, by: { torque: 0 } }] as const;
    expect(stopping({ train: lift, speed: 10, sense: -1 }, coast)).toBeUndefined();
    expect(stopping({ train: lift, speed: 10, sense: 1 }, coast)?.time).toBeCloseTo(10 / 200, 9);
  });

  it('the losses of a stage brake: power flows back through it', () => {
    const geared: DriveTrain = {
      inertia: 0.001,
      loadInertia: 0.001,
      friction: 0,
      gravity: 0,
      stages: [{ efficiency: 0.5, backDriveEfficiency: 0.5, inertia: 0 }],
    };
    // 1 N·m against the motion: J·α = 0.001 + 0.5·0.001.
    const stop = stopping({ train: geared, speed: 100, sense: 1 }, [{ seconds: Infinity, by: { torque: 1 } }]);
    expect(stop?.time).toBeCloseTo((100 * 0.0015) / 1, 9);
  });
});

describe('a runaway from rest', () => {
  it('accelerates through the window, then coasts: 0.6 N·m less friction are 200 rad/s²', () => {
    // v² = 2·200·0.5 = 200; coast v²/(2·100) = 1 rad.
    const rad = runawayAtRest(plain, 0.6, 0.5, 0, [{ seconds: Infinity, by: { torque: 0 } }]);
    expect(rad).toBeCloseTo(1.5, 9);
  });

  it('does not move against a friction above its torque, and is not stopped where gravity drives it', () => {
    expect(runawayAtRest(plain, 0.1, 0.5, 0, [{ seconds: Infinity, by: { torque: 0 } }])).toBe(0);
    const lift: DriveTrain = { inertia: 0.002, friction: 0.1, gravity: 0.3 };
    expect(runawayAtRest(lift, 0.6, 0.5, 0, [{ seconds: Infinity, by: { torque: 0 } }])).toBeUndefined();
  });
});
