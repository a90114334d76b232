import { describe, expect, it } from 'vitest';
import { logarithmic, marginsOf, type Response } from './index.ts';

/** A response by its formula: [real, imaginary] at s = j·w. */
function responseOf(frequencies: Float64Array, formula: (w: number) => readonly [number, number]): Response {
  const points = [...frequencies].map(formula);
  return {
    frequencies,
    real: Float64Array.from(points, ([re]) => re),
    imaginary: Float64Array.from(points, ([, im]) => im),
  };
}

/** 1/(product of (s + p)) times a gain; a pole of 0 is an integrator. */
const poles = (gain: number, ...at: readonly number[]) =>
  responseOf(logarithmic(1e-3, 1e4, 4000), (w) => {
    const size = at.reduce((product, p) => product / Math.hypot(p, w), gain);
    const angle = at.reduce((sum, p) => sum - Math.atan2(w, p), 0);
    return [size * Math.cos(angle), size * Math.sin(angle)];
  });

describe('margins', () => {
  it.each([
    // Ogata, Modern Control Engineering, stability margins of K/(s(s + 1)(s + 5)), from memory: 9.54 dB at √5, 25.4° with K = 10;
    // unstable from K = 30 on.
    [10, 20 * Math.log10(3), 25.4, true],
    [100, Infinity, undefined, false],
    [29, 20 * Math.log10(30 / 29), undefined, true],
    [31, Infinity, undefined, false],
  ])('of K/(s(s + 1)(s + 5)) with K = %d', (gain, gainMargin, phaseMargin, isStable) => {
    const got = marginsOf(poles(gain, 0, 1, 5), 1);
    expect(got.isStable).toBe(isStable);
    if (isStable) expect(got.gainMargin).toBeCloseTo(gainMargin, 2);
    if (phaseMargin !== undefined) expect(got.phaseMargin).toBeCloseTo(phaseMargin, 1);
  });

  it.each([0.2, 0.5, 0.707])('of a second-order loop with a damping of %d', (damping) => {
    // Franklin, Powell, Emami-Naeini: tan PM = 2ζ/√(√(1 + 4ζ⁴) − 2ζ²).
    const got = marginsOf(poles(100 ** 2, 0, 2 * damping * 100), 1);
    const wanted = Math.atan((2 * damping) / Math.sqrt(Math.sqrt(1 + 4 * damping ** 4) - 2 * damping ** 2));
    expect(got.phaseMargin).toBeCloseTo((wanted * 180) / Math.PI, 1);
    expect([got.isStable, got.gainMargin]).toEqual([true, Infinity]);
    expect(got.crossover).toBeCloseTo(100 * Math.sqrt(Math.sqrt(1 + 4 * damping ** 4) - 2 * damping ** 2), 1);
  });

  it('two integrators alone are not stable, with a zero they are', () => {
    expect(marginsOf(poles(1, 0, 0, 10), 2).isStable).toBe(false);
    const lead = responseOf(logarithmic(1e-3, 1e4, 4000), (w) => [-1 / w ** 2, -1 / w]);
    const got = marginsOf(lead, 2);
    // (s + 1)/s²: at a gain of one w² = (1 + √5)/2, and the phase is −180° + atan w.
    const w = Math.sqrt((1 + Math.sqrt(5)) / 2);
    expect(got.isStable).toBe(true);
    expect(got.phaseMargin).toBeCloseTo((Math.atan(w) * 180) / Math.PI, 1);
  });
});
