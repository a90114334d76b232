import {
  addRational,
  compareRational,
  divideRational,
  isInteger,
  multiplyRational,
  negateRational,
  rational,
  rationalToNumber,
  rationalToText,
  type Rational,
} from './rational.ts';

/**
 * An exact value `ratio · π^piPower`. π stays a symbol, so that travel per turn of a roller over travel per turn of
 * another roller is a plain fraction again.
 */
export interface Exact {
  readonly ratio: Rational;
  readonly piPower: number;
}

export const exact = (numerator: bigint | number, denominator: bigint | number = 1n, piPower = 0): Exact =>
  exactRatio(rational(numerator, denominator), piPower);

export const exactRatio = (ratio: Rational, piPower = 0): Exact => ({
  ratio,
  piPower: ratio.numerator === 0n ? 0 : piPower,
});

export const multiply = (...factors: readonly Exact[]): Exact =>
  factors.reduce((a, b) => exactRatio(multiplyRational(a.ratio, b.ratio), a.piPower + b.piPower), exact(1n));

/** @throws RangeError when b is zero. */
export const divide = (a: Exact, b: Exact): Exact =>
  exactRatio(divideRational(a.ratio, b.ratio), a.piPower - b.piPower);

export const negate = (a: Exact): Exact => exactRatio(negateRational(a.ratio), a.piPower);

export const absolute = (a: Exact): Exact => (a.ratio.numerator < 0n ? negate(a) : a);

export const isRational = (a: Exact): boolean => a.piPower === 0;

export const isWhole = (a: Exact): boolean => isRational(a) && isInteger(a.ratio);

export const isZero = (a: Exact): boolean => a.ratio.numerator === 0n;

export const equals = (a: Exact, b: Exact): boolean =>
  a.piPower === b.piPower && a.ratio.numerator === b.ratio.numerator && a.ratio.denominator === b.ratio.denominator;

/** π to 50 decimals (OEIS A000796). */
export const piDigits = '3.14159265358979323846264338327950288419716939937510';
const pi = rational(BigInt(piDigits.replace('.', '')), 10n ** 50n);

/** The value as a fraction; where π takes part, with π to 50 decimals, so good to more than 40 digits. */
export function toRational(a: Exact): Rational {
  let value = a.ratio;
  for (let k = 0; k < Math.abs(a.piPower); k++) {
    value = a.piPower > 0 ? multiplyRational(value, pi) : divideRational(value, pi);
  }
  return value;
}

export const toNumber = (a: Exact): number => rationalToNumber(a.piPower === 0 ? a.ratio : toRational(a));

export const compare = (a: Exact, b: Exact): number => compareRational(toRational(a), toRational(b));

/** Adds exactly; across different powers of π the sum is the 50-digit fraction. */
export const add = (a: Exact, b: Exact): Exact =>
  a.piPower === b.piPower
    ? exactRatio(addRational(a.ratio, b.ratio), a.piPower)
    : exactRatio(addRational(toRational(a), toRational(b)));

/** `10/3`, `3π`, `5/2/π`. */
export function exactToText(a: Exact): string {
  const ratio = rationalToText(a.ratio);
  if (a.piPower === 0) return ratio;
  const power = Math.abs(a.piPower) === 1 ? 'π' : `π^${Math.abs(a.piPower)}`;
  if (a.piPower > 0) return ratio === '1' ? power : `${ratio}·${power}`;
  const [numerator, denominator] = ratio.split('/');
  return denominator === undefined ? `${ratio}/${power}` : `${numerator}/(${denominator}·${power})`;
}
