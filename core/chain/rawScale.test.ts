import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { exact, toNumber, toRational } from '../quantity/index.ts';
import { dutyRange } from '../signal/index.ts';
import { rawOf, rawScale, rawValue } from './index.ts';

const most = { numerator: 65535n, denominator: 65535n };
const nearest = (value: ReturnType<typeof rawOf>) => {
  const { numerator, denominator } = toRational(value);
  return (2n * numerator + denominator) / (2n * denominator);
};

describe('a scale in whole numbers of the drive', () => {
  it('two points in, the same two out, within one count of the drive and of its raw number', () => {
    const duty = fc.integer({ min: 0, max: 1000 }).map((tenths) => exact(tenths, 10));
    const value = fc.integer({ min: -6000, max: 6000 });
    fc.assert(
      fc.property(
        fc.constantFrom(255, 1023, 1024, 4095, 32767),
        duty,
        duty,
        value,
        value,
        (full, lowDuty, highDuty, low, high) => {
          fc.pre(Math.abs(toNumber(highDuty) - toNumber(lowDuty)) > 5 && low !== high);
          const scale = {
            from: { signal: lowDuty, value: exact(low) },
            to: { signal: highDuty, value: exact(high) },
          };
          const raw = rawScale(scale, dutyRange, exact(full), exact(1), most);
          if (!raw) throw new Error('no fraction');
          const step = Math.abs(Number(raw.numerator) / Number(raw.denominator));
          for (const { signal, value: wanted } of [scale.from, scale.to]) {
            const got = rawValue(raw, nearest(rawOf(signal, dutyRange, exact(full))));
            // Half a raw number is lost where the signal is read, half a count where the offset is rounded.
            expect(Math.abs(got - toNumber(wanted))).toBeLessThanOrEqual(1 + step / 2 + 1e-9);
          }
        },
      ),
    );
  });

  it('by hand: 5 to 95 % of 1023 for 0 to 3000 rpm', () => {
    // raw 51.15 → 0, raw 971.85 → 3000: 3000 / 920.7 = 10 000 / 3069; offset −166.67
    const scale = { from: { signal: exact(5), value: exact(0) }, to: { signal: exact(95), value: exact(3000) } };
    expect(rawScale(scale, dutyRange, exact(1023), exact(1), most)).toEqual({
      numerator: 10000n,
      denominator: 3069n,
      offset: -167n,
    });
    const falling = { from: scale.to, to: { signal: exact(5), value: exact(6000) } };
    expect(rawScale(falling, dutyRange, exact(1023), exact(1), most)?.numerator).toBeLessThan(0n);
  });

  it('has no answer for a flat line or where nothing fits', () => {
    const flat = { from: { signal: exact(0), value: exact(1) }, to: { signal: exact(100), value: exact(1) } };
    expect(rawScale(flat, dutyRange, exact(1023), exact(1), most)).toBeUndefined();
  });
});
