import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compare, equals, exact, toNumber, type Exact } from '../quantity/index.ts';
import {
  gainOf,
  liveZeroLevels,
  potentiometerResult,
  rangeOf,
  signalAt,
  valueAt,
  wiperVoltage,
  zeroSignal,
} from './index.ts';

const fraction = fc
  .tuple(fc.integer({ min: -100000, max: 100000 }), fc.integer({ min: 1, max: 1000 }))
  .map(([a, b]) => exact(a, b));
const scales = fc
  .record({
    from: fc.record({ signal: fraction, value: fraction }),
    to: fc.record({ signal: fraction, value: fraction }),
  })
  .filter(({ from, to }) => compare(from.signal, to.signal) !== 0 && compare(from.value, to.value) !== 0);
const scale = (a: Exact, b: Exact, c: Exact, d: Exact) => ({
  from: { signal: a, value: b },
  to: { signal: c, value: d },
});

describe('two-point scale', () => {
  it('two points in, the same two out, and every value back to its signal, exactly', () => {
    fc.assert(
      fc.property(scales, fraction, (line, signal) => {
        expect(equals(valueAt(line, line.from.signal), line.from.value)).toBe(true);
        expect(equals(valueAt(line, line.to.signal), line.to.value)).toBe(true);
        expect(equals(signalAt(line, valueAt(line, signal)), signal)).toBe(true);
      }),
    );
  });

  it('by hand: 10 V for 3000 rpm, 5 V in the middle of both directions, 4 to 20 mA, and an inverted one', () => {
    expect(toNumber(gainOf(scale(exact(0), exact(0), exact(10), exact(3000))))).toBe(300);
    const both = scale(exact(5), exact(0), exact(10), exact(1500));
    expect([0, 2.5, 7.5].map((volts) => toNumber(valueAt(both, exact(volts * 10, 10))))).toEqual([-1500, -750, 750]);
    const live = scale(exact(4), exact(0), exact(20), exact(100));
    expect(toNumber(valueAt(live, exact(12)))).toBe(50);
    expect(toNumber(zeroSignal(live))).toBe(4);
    const inverted = scale(exact(0), exact(0), exact(10), exact(-3000));
    expect(toNumber(signalAt(inverted, exact(300)))).toBe(-1);
  });

  it('ranges have their ends', () => {
    const ends = (name: Parameters<typeof rangeOf>[0]) => {
      const { lowest, highest, unit } = rangeOf(name, 5);
      return [toNumber(lowest), toNumber(highest), unit];
    };
    expect(ends('±10 V')).toEqual([-10, 10, 'V']);
    // IEC 60381-1
    expect(ends('4–20 mA')).toEqual([4, 20, 'mA']);
    expect(ends('0–20 mA')).toEqual([0, 20, 'mA']);
    // NAMUR NE 43 (from memory)
    expect(liveZeroLevels).toEqual({ failsBelow: 3.6, measuresFrom: 3.8, measuresTo: 20.5, failsAbove: 21 });
    expect(ends('0–10 V')).toEqual([0, 10, 'V']);
    expect(ends('0–5 V')).toEqual([0, 5, 'V']);
    expect(ends('potentiometer')).toEqual([0, 5, 'V']);
  });
});

describe('potentiometer on a reference', () => {
  // By hand: 10 kΩ on 10 V takes 1 mA, and 1 mA more for an input of 10 kΩ; at the middle 5 kΩ stand over 5 ∥ 10 = 10/3 kΩ, so 4 V.
  const pot = {
    resistance: 10000,
    deadEnd: 0.03,
    referenceVoltage: 10,
    referenceCurrent: 0.005,
    inputResistance: 10000,
  };
  it('sags under its input as a loaded divider', () => {
    expect(wiperVoltage(pot, 0.5)).toBeCloseTo(4, 12);
    expect(wiperVoltage(pot, 0)).toBe(0);
    expect(wiperVoltage(pot, 1)).toBe(10);
    const { current, isTooMuch, worstSag, sagAt, effectiveTurn } = potentiometerResult(pot);
    expect(current).toBeCloseTo(0.002, 12);
    expect(isTooMuch).toBe(false);
    expect(effectiveTurn).toBeCloseTo(0.94, 12);
    // The worst place of x − x/(1 + x(1 − x)) by its derivative: between 0.6 and 0.7.
    expect(sagAt).toBeGreaterThan(0.6);
    expect(sagAt).toBeLessThan(0.7);
    expect(worstSag).toBeCloseTo(10 * sagAt - wiperVoltage(pot, sagAt), 12);
  });

  it('1 kΩ is too much for 5 mA, and the least that is not is said', () => {
    const small = potentiometerResult({ ...pot, resistance: 1000 });
    expect(small.isTooMuch).toBe(true);
    expect(small.leastResistance).toBeCloseTo(2500, 6);
    expect(potentiometerResult({ ...pot, referenceCurrent: 0.0005 }).leastResistance).toBe(Infinity);
  });
});
