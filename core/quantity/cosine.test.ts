import { describe, expect, it } from 'vitest';
import { cosineOf } from './cosine.ts';
import { toNumber } from './exact.ts';
import { rational } from './rational.ts';

describe('cosine', () => {
  it.each([
    [0, 1],
    [60, 0.5],
    [90, 0],
    [-45, Math.SQRT1_2],
    [300, 0.5],
    [-720, 1],
  ])('of %d° is %d', (degrees, expected) => {
    expect(toNumber(cosineOf(rational(degrees)))).toBeCloseTo(expected, 14);
  });

  it('ends for any angle: 10⁴⁰⁰ whole turns and 60°', () => {
    expect(toNumber(cosineOf(rational(360n * 10n ** 400n + 60n, 1n)))).toBeCloseTo(0.5, 14);
  });
});
