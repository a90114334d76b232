import Fraction from 'fraction.js';
import { describe, expect, it } from 'vitest';
import {
  addRational,
  compareRational,
  conversion,
  divide,
  divideRational,
  exact,
  exactToText,
  formatExact,
  formatNumber,
  isRational,
  multiply,
  multiplyRational,
  parseQuantity,
  parseRational,
  rational,
  rationalToNumber,
  rationalToText,
  subtractRational,
  toNumber,
} from './index.ts';

/** A small deterministic generator, so that a failure can be repeated. */
function numbers(seed: number) {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647);
}

describe('rational', () => {
  it('agrees with fraction.js 5 over 2000 random operations', () => {
    const next = numbers(7);
    for (let k = 0; k < 500; k++) {
      const [a, b, c, d] = [next() - 1e9, next(), next() - 1e9 || 1, next()].map(BigInt) as [
        bigint,
        bigint,
        bigint,
        bigint,
      ];
      const [x, y] = [rational(a, b), rational(c, d)];
      const [u, v] = [new Fraction(a, b), new Fraction(c, d)];
      const pairs = [
        [addRational(x, y), u.add(v)],
        [subtractRational(x, y), u.sub(v)],
        [multiplyRational(x, y), u.mul(v)],
        [divideRational(x, y), u.div(v)],
      ] as const;
      for (const [ours, theirs] of pairs) expect(rationalToText(ours)).toBe(theirs.toFraction());
      expect(Math.sign(compareRational(x, y))).toBe(Math.sign(u.compare(v)));
    }
  });

  it.each([
    ['12', '12'],
    ['0.7', '7/10'],
    ['10/3', '10/3'],
    ['-1.5e-3', '-3/2000'],
    ['.5', '1/2'],
    ['2.5/1.25', '2'],
  ])('reads %s as %s', (text, want) => {
    expect(rationalToText(parseRational(text) ?? rational(0))).toBe(want);
  });

  it.each(['', 'abc', '1/0', '1..2', '--1', '1e9999', '1/2/3', 'NaN', 'Infinity', '.'])('refuses “%s”', (text) => {
    expect(parseRational(text)).toBeUndefined();
  });

  it('converts far beyond the range of doubles', () => {
    const huge = 10n ** 400n;
    expect(rationalToNumber(rational(huge * 3n, huge * 2n + 1n))).toBe(1.5);
    expect(rationalToNumber(rational(-1n, 3n))).toBe(-1 / 3);
  });
});

describe('exact', () => {
  it('keeps π as a symbol until it cancels', () => {
    const roller = multiply(exact(50), exact(1, 1, 1));
    expect(exactToText(roller)).toBe('50·π');
    expect(toNumber(roller)).toBe(50 * Math.PI);
    const ratio = divide(roller, multiply(exact(20), exact(1, 1, 1)));
    expect(isRational(ratio)).toBe(true);
    expect(exactToText(ratio)).toBe('5/2');
  });
});

describe('units', () => {
  it.each([
    // inch, foot and pound by the international agreement of 1959; revolution = 360° = 2π rad
    ['in', 'mm', '127/5'],
    ['m/min', 'mm/s', '50/3'],
    ['rpm', 'deg/s', '6'],
    ['rad', 'rev', '1/(2·π)'],
    ['mm/s²', 'mm/s^2', '1'],
    ['kg·cm²', 'kg·m²', '1/10000'],
    ['kHz', 'Hz', '1000'],
    ['N·m', 'mN·m', '1000'],
  ])('one %s is exactly so many %s', (from, to, want) => expect(exactToText(conversion(from, to))).toBe(want));

  it('knows an ounce-inch to five digits', () => {
    // NIST SP 811 appendix B: 1 ozf·in = 7.061 552 E-03 N·m
    expect(toNumber(conversion('ozf·in', 'N·m'))).toBeCloseTo(7.061552e-3, 9);
  });
});

describe('parseQuantity', () => {
  const length = { unit: 'mm', above: exact(0), atMost: exact(1000000) };

  it('takes a unit with the number, exactly', () => {
    expect(parseQuantity('0.7 in', length)).toMatchObject({ kind: 'value', unit: 'in', value: exact(1778, 100) });
    expect(parseQuantity('1.5 m/min', { unit: 'mm/s' })).toMatchObject({ value: exact(25) });
    expect(parseQuantity('2', length, 'in')).toMatchObject({ value: exact(508, 10) });
    expect(parseQuantity('1,5', length)).toMatchObject({ value: exact(3, 2) });
  });

  it.each([
    ['0', 'more than 0 mm'],
    ['-3 mm', 'more than 0 mm'],
    ['2000 m', 'at most 1000000 mm'],
    ['abc', 'not a number'],
    ['5 kg', '“kg” cannot be used here. Use mm'],
    ['5 furlong', '“furlong” is not a known unit. Use'],
    ['9'.repeat(80), 'Too long'],
    ['NaN', 'not a number'],
  ])('refuses %s and says what is allowed', (text, message) => {
    const result = parseQuantity(text, length);
    expect(result.kind === 'error' && result.message).toContain(message);
  });

  it.each([
    ['100\u202f000 mm', '100000', undefined],
    ['100 000 mm', '100000', undefined],
    ['12\u00a0500', '12500', undefined],
    ["1'000'000", '1000000', undefined],
    ['1,234,567.5', '1234567.5', undefined],
    ['1.234.567,5', '1234567.5', undefined],
    ['1.234', '1.234', undefined],
    ['0,125', '0.125', undefined],
    ['1234,567', '1234.567', undefined],
    ['1,000', '1000', '.'],
    ['1,000', '1', ','],
    ['1,25', '1.25', '.'],
    ['1:2', '0.5', undefined],
    ['10k', '10000', undefined],
    ['2M', '2000000', undefined],
  ] as const)('reads %s as %s', (text, value, mark) => {
    const got = parseQuantity(text, { unit: 'mm' }, 'mm', mark);
    expect(got.kind === 'value' && toNumber(got.value)).toBe(Number(value));
  });

  it('refuses what can be read two ways, with both, or reads it as the locale writes it and says so', () => {
    const message = (text: string, mark?: '.' | ',') => {
      const got = parseQuantity(text, { unit: 'mm' }, 'mm', mark);
      return got.kind === 'error' ? got.message : got.kind === 'value' ? got.readAs : '';
    };
    expect(message('1,000')).toBe('“1,000” can be read as 1.000 or as 1000. Enter one of these.');
    expect(message('100.000', ',')).toBe('“100.000” can be read as 100.000 or as 100000. Enter one of these.');
    expect(message('1,000 mm', '.')).toBe('1000 mm');
    expect(message('1,000', ',')).toBe('1.000');
    expect(message('100.000', '.')).toBeUndefined();
    for (const text of ['1 00', '1,00,000', '1,2,3', '12 3456', '1..2', '--1'])
      expect(message(text, '.'), text).toContain('is not a number');
  });

  it('takes per cent in its own field as it is, and in a share as a share', () => {
    const value = (text: string, rule: { unit: string; shownUnit?: string }) => {
      const got = parseQuantity(text, rule);
      return got.kind === 'value' ? toNumber(got.value) : got.kind;
    };
    expect(value('60 %', { unit: '', shownUnit: '%' })).toBe(60);
    expect(value('60 %', { unit: '', shownUnit: '' })).toBe(0.6);
    expect(value('60 %', { unit: 'mm' })).toBe('error');
  });

  it('knows an empty field from a wrong one', () => expect(parseQuantity('  ', length)).toEqual({ kind: 'empty' }));
});

describe('formatting', () => {
  it.each([
    [1234567.891, '1\u202f234\u202f568'],
    [0.000123456789, '0.000123457'],
    [-0.5, '-0.5'],
    [1e20, '1e+20'],
    [NaN, '—'],
  ])('%s reads %s', (value, text) => expect(formatNumber(value)).toBe(text));

  it('marks what is rounded', () => {
    expect(formatExact(exact(32000, 3), 6)).toBe('≈ 10\u202f666.7');
    expect(formatExact(exact(1, 8))).toBe('0.125');
  });
});
