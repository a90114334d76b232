import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rangeOnTicks, ticksOfDecades, ticksWithin } from './ticks.ts';

describe('ticks', () => {
  it.each([
    // By hand: the least of 1, 2, 5 · 10ⁿ that gives no more than so many parts.
    [0, 5.467, 6, [0, 1, 2, 3, 4, 5]],
    [7.87, 39.4, 4, [10, 20, 30]],
    [-47.2, 47.2, 3, [-40, -20, 0, 20, 40].filter((each) => each % 50 === 0)],
    [0.1, 0.3, 2, [0.1, 0.2, 0.3]],
    [-0.18, 0.18, 4, [-0.1, 0, 0.1]],
    [5, 5, 4, [5]],
  ])('from %d to %d, at most %d parts', (low, high, most, ticks) => {
    expect(ticksWithin(low, high, most)).toEqual(ticks);
  });

  it('of a logarithmic axis are 1, 2 and 5 times powers of ten', () => {
    expect(ticksOfDecades(0.9, 60)).toEqual([1, 2, 5, 10, 20, 50]);
    expect(ticksOfDecades(0.001, 0.02)).toEqual([0.001, 0.002, 0.005, 0.01, 0.02]);
    expect(ticksOfDecades(0, 5)).toEqual([]);
  });

  it('are evenly spaced, few, and at both ends of a range made for them, whatever is drawn', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: 1e-4, max: 10, noNaN: true }),
        fc.integer({ min: 2, max: 8 }),
        (from, share, most) => {
          const to = from + Math.max(Math.abs(from), 1e-6) * share;
          const [low, high] = rangeOnTicks(from, to, most);
          const wide = high - low;
          expect(low).toBeLessThanOrEqual(from + wide * 1e-5);
          expect(high).toBeGreaterThanOrEqual(to - wide * 1e-5);
          const ticks = ticksWithin(low, high, most);
          expect(ticks.length).toBeLessThanOrEqual(most + 1);
          expect([ticks[0], ticks.at(-1)]).toEqual([low, high]);
          const steps = ticks.slice(1).map((tick, k) => (tick - (ticks[k] ?? 0)) / wide);
          for (const step of steps) expect(step).toBeCloseTo(1 / steps.length, 6);
        },
      ),
      { seed: 7, numRuns: 500 },
    );
  });
});
