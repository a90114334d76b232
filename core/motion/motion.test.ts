import { describe, expect, it } from 'vitest';
import { demandedMoves, moveSample, moveTorque, planMove, sampleMove, traceFigures } from './index.ts';

describe('planMove', () => {
  it('slows down otherwise than it speeds up: 100 mm at 200 mm/s, 2000 up and 1000 mm/s² down', () => {
    const sample = moveSample();
    // By hand: 0.1 s and 10 mm up, 0.2 s and 20 mm down, 70 mm in 0.35 s between.
    const move = planMove(100, { speed: 200, acceleration: 2000, deceleration: 1000 });
    expect(move.duration).toBeCloseTo(0.65, 12);
    sampleMove(move, 0.45, sample);
    expect([sample.position, sample.speed]).toEqual([expect.closeTo(80, 9), expect.closeTo(200, 9)]);
    // A triangle: v² = 2·3·2000·1000/3000, so 63.2456 mm/s.
    expect(planMove(3, { speed: 200, acceleration: 2000, deceleration: 1000 }).peakSpeed).toBeCloseTo(63.2456, 4);
  });

  it('is the parabola of VDI 2143 when the speed is never reached: peaks 2 and 4, normalised', () => {
    const move = planMove(1, { speed: 100, acceleration: 4 });
    expect(move.duration).toBeCloseTo(1, 12);
    expect(move.peakSpeed).toBeCloseTo(2, 12);
    expect(move.peakAcceleration).toBe(4);
  });

  it('agrees with a worked example: 100 mm at 200 mm/s, 2000 mm/s², 20000 mm/s³', () => {
    // By hand: Tj = 0.1 s, Ta = 200/2000 + 0.1 = 0.2 s, cruise = 100/200 − 0.2 = 0.3 s, whole 0.7 s.
    expect(planMove(100, { speed: 200, acceleration: 2000, jerk: 20000 }).duration).toBeCloseTo(0.7, 12);
    // Trapezoid by hand: 100/200 + 200/2000 = 0.6 s.
    expect(planMove(100, { speed: 200, acceleration: 2000 }).duration).toBeCloseTo(0.6, 12);
  });

  it('keeps every limit, ends at rest on the target and is continuous, at any distance', () => {
    const sample = moveSample();
    for (const distance of [1e-9, 0.001, 0.3, 1, 7, 50, 400, -123, 1e6]) {
      for (const jerk of [undefined, 5, 100, 20000]) {
        const limits = { speed: 30, acceleration: 80, jerk };
        const move = planMove(distance, limits);
        const end = move.segments.at(-1);
        expect(end).toBeDefined();
        sampleMove(move, move.duration * (1 - 1e-12), sample);
        expect(Math.abs(sample.position - distance)).toBeLessThan(1e-9 * Math.max(1, Math.abs(distance)));
        expect(Math.abs(sample.speed)).toBeLessThan(1e-4 * limits.speed);
        expect(move.peakSpeed).toBeLessThanOrEqual(limits.speed * (1 + 1e-9));
        expect(move.peakAcceleration).toBeLessThanOrEqual(limits.acceleration * (1 + 1e-9));
        for (let k = 1; k < move.segments.length; k++) {
          const [before, after] = [move.segments[k - 1], move.segments[k]];
          if (!before || !after || jerk === undefined) continue;
          expect(before.acceleration + before.jerk * before.duration).toBeCloseTo(after.acceleration, 6);
        }
      }
    }
  });

  it('refuses limits that are no limits', () => {
    for (const speed of [0, -1, NaN, Infinity]) expect(() => planMove(1, { speed, acceleration: 1 })).toThrow('speed');
    expect(() => planMove(NaN, { speed: 1, acceleration: 1 })).toThrow('distance');
    expect(planMove(0, { speed: 1, acceleration: 1 }).duration).toBe(0);
  });
});

describe('moveTorque', () => {
  it('agrees with the handbook sum Σ T²·t over a trapezoid with dwell', () => {
    // Machinery's Handbook duty-cycle formula, by hand: J = 0.001 kg·m², 100 rad/s in 0.1 s → 1 N·m; friction 0.2 N·m.
    // 0.1 s at 1.2, 0.3 s at 0.2, 0.1 s at −0.8, 0.5 s at 0 N·m.
    const move = planMove(40, { speed: 100, acceleration: 1000 });
    const torque = moveTorque(move, 0.5, { inertia: 0.001, friction: 0.2, gravity: 0, radiansPerUnit: 1 });
    expect(torque.peak).toBeCloseTo(1.2, 12);
    expect(torque.rms).toBeCloseTo(Math.sqrt((1.44 * 0.1 + 0.04 * 0.3 + 0.64 * 0.1) / 1), 12);
    expect(torque.rmsSpeed).toBeCloseTo(Math.sqrt(100 ** 2 * (0.3 + 0.2 / 3)), 9);
  });
});

describe('traceFigures', () => {
  it('leaves out what is missing, and finds the moves around it', () => {
    const gap = (...values: number[]) => Float64Array.of(...values);
    const demandPosition = gap(0, 0, 1, 2, NaN, NaN, 5, 5);
    const flat = gap(0, 0, 3, 4, NaN, NaN, 0, 0);
    const trace = {
      period: 0.1,
      demandPosition,
      actualPosition: demandPosition,
      actualSpeed: flat,
      followingError: gap(0, 0, 0.5, 0.2, NaN, NaN, 0, 0),
      torque: flat,
    };
    // √((3² + 4²) / 6): six samples are there.
    expect(traceFigures(trace, 0.1)).toMatchObject({
      peakSpeed: 4,
      peakFollowingError: 0.5,
      rmsTorque: Math.sqrt(25 / 6),
      restingError: 0,
    });
    expect(demandedMoves(demandPosition, 0.1)).toEqual([{ from: 1, to: 3 }]);
  });

  it('finds the moves, their peaks and the settling in a trace made by hand', () => {
    const demandPosition = Float64Array.of(0, 0, 1, 2, 3, 3, 3, 3, 2, 1, 1, 1);
    const followingError = Float64Array.of(0, 0, 0.5, -0.9, 0.4, 0.2, 0, 0, -0.3, -0.3, 0.2, 0.01);
    const actualSpeed = Float64Array.of(0, 0, 10, -12, 3, 0, 0, 0, 0, 0, 0, 0);
    const torque = Float64Array.of(0, 0, 30, -40, 0, 0, 0, 0, 0, 0, 0, 0);
    const trace = { period: 0.1, demandPosition, actualPosition: demandPosition, actualSpeed, followingError, torque };
    const figures = traceFigures(trace, 0.1);
    expect(figures).toMatchObject({ peakSpeed: 12, peakFollowingError: 0.9, peakTorque: 40, restingError: 0.01 });
    // √((30² + 40²) / 12); the demand rests at sample 9, the error leaves the window last at 10.
    expect(figures.rmsTorque).toBeCloseTo(Math.sqrt(2500 / 12), 12);
    expect(figures.settlingTime).toBeCloseTo(0.2, 12);
    expect(demandedMoves(demandPosition, 0.1)).toEqual([
      { from: 1, to: 4 },
      { from: 7, to: 9 },
    ]);
  });
});
