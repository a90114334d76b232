import { describe, expect, it } from 'vitest';
import { steadySpeeds } from './index.ts';

/** Ten seconds at 100 samples a second; a motor of two poles on a belt of 2: 6000 rpm of the tool are 200 Hz and 12 000 rpm of the motor. */
const period = 0.01;
const trace = (hertz: (t: number) => number, slip: (t: number) => number) => {
  const at = (value: (t: number) => number) => Float64Array.from({ length: 1000 }, (_, k) => value(k * period));
  return { period, hertz: at(hertz), motorSpeed: at((t) => 60 * hertz(t) * (1 - slip(t))), ratio: 2 };
};

describe('steady speeds of a run test', () => {
  const changes = [{ at: 0, commanded: 6000 }, { at: 5 }, { at: 8, commanded: 0 }];

  it('are compared with what was commanded, without load and under it', () => {
    const measured = trace(
      (t) => Math.min(200, 100 * t),
      (t) => (t < 5 ? 0.01 : 0.04),
    );
    const steady = steadySpeeds(changes, 9, measured);
    expect(steady.map(({ commanded, error }) => [commanded, Number(error.toFixed(6))])).toEqual([
      [6000, -1],
      [6000, -4],
    ]);
    expect(steady[0]).toMatchObject({ from: 3.5, to: 5 });
    expect(steady[1]?.measured).toBeCloseTo(5760, 6);
  });

  it('leave out a stretch that still ramps, one that was not recorded, and rest', () => {
    const ramping = trace(
      (t) => 20 * t,
      () => 0,
    );
    expect(steadySpeeds(changes, 9, ramping)).toEqual([]);
    const still = trace(
      () => 0,
      () => 0,
    );
    expect(steadySpeeds(changes, 9, still)).toEqual([]);
    const short = {
      ...trace(
        () => 200,
        () => 0,
      ),
      hertz: new Float64Array(10).fill(200),
      motorSpeed: new Float64Array(10),
    };
    expect(steadySpeeds(changes, 9, short)).toEqual([]);
  });
});
