/**
 * An exact fraction. Always in lowest terms with a positive denominator, so two equal values have equal fields.
 * Build one with {@link rational}; never by hand.
 */
export interface Rational {
  readonly numerator: bigint;
  readonly denominator: bigint;
}

export function greatestCommonDivisor(a: bigint, b: bigint): bigint {
  let x = a < 0n ? -a : a;
  let y = b < 0n ? -b : b;
  while (y !== 0n) [x, y] = [y, x % y];
  return x;
}

/** @throws RangeError when the denominator is zero. */
export function rational(numerator: bigint | number, denominator: bigint | number = 1n): Rational {
  const n = BigInt(numerator);
  const d = BigInt(denominator);
  if (d === 0n) throw new RangeError('A fraction needs a denominator other than zero.');
  const divisor = greatestCommonDivisor(n, d) * (d < 0n ? -1n : 1n);
  return { numerator: n / divisor, denominator: d / divisor };
}

export const zero = rational(0n);
export const one = rational(1n);

export const addRational = (a: Rational, b: Rational): Rational =>
  rational(a.numerator * b.denominator + b.numerator * a.denominator, a.denominator * b.denominator);

export const negateRational = (a: Rational): Rational => ({ numerator: -a.numerator, denominator: a.denominator });

export const subtractRational = (a: Rational, b: Rational): Rational => addRational(a, negateRational(b));

export const multiplyRational = (a: Rational, b: Rational): Rational =>
  rational(a.numerator * b.numerator, a.denominator * b.denominator);

/** @throws RangeError when b is zero. */
export const divideRational = (a: Rational, b: Rational): Rational =>
  rational(a.numerator * b.denominator, a.denominator * b.numerator);

/** Negative, zero or positive as a is below, equal to or above b. */
export function compareRational(a: Rational, b: Rational): number {
  const difference = a.numerator * b.denominator - b.numerator * a.denominator;
  return difference < 0n ? -1 : difference > 0n ? 1 : 0;
}

export const isInteger = (a: Rational): boolean => a.denominator === 1n;

/** The nearest double, also where numerator and denominator are far beyond its range. */
export function rationalToNumber(a: Rational): number {
  const direct = Number(a.numerator) / Number(a.denominator);
  const small = 1n << 53n;
  if (a.numerator < small && -a.numerator < small && a.denominator < small) return direct;
  const negative = a.numerator < 0n;
  const numerator = negative ? -a.numerator : a.numerator;
  const shift = BigInt(numerator.toString(2).length - a.denominator.toString(2).length - 66);
  const quotient = shift >= 0n ? numerator / (a.denominator << shift) : (numerator << -shift) / a.denominator;
  const magnitude = Number(quotient) * 2 ** Number(shift);
  return negative ? -magnitude : magnitude;
}

const accepted = /^([+-]?)(\d*)(?:\.(\d+))?(?:[eE]([+-]?\d{1,3}))?(?:\s*\/\s*(\d+)(?:\.(\d+))?)?$/;

/**
 * Reads an exact number: an integer `12`, a decimal `0.7`, `-1.5e-3`, or a fraction `10/3`, `2.5/1.2`.
 * @returns undefined when the text has none of these forms, or the denominator is zero.
 */
export function parseRational(text: string): Rational | undefined {
  const match = accepted.exec(text.trim());
  if (!match) return undefined;
  const [, sign, whole = '', decimals = '', exponent = '0', below, belowDecimals = ''] = match;
  if (whole === '' && decimals === '') return undefined;
  let value = rational(BigInt(`${whole}${decimals}`), 10n ** BigInt(decimals.length));
  const power = Number(exponent);
  value = multiplyRational(value, power < 0 ? rational(1n, 10n ** BigInt(-power)) : rational(10n ** BigInt(power)));
  if (below !== undefined) {
    const divisor = rational(BigInt(`${below}${belowDecimals}`), 10n ** BigInt(belowDecimals.length));
    if (divisor.numerator === 0n) return undefined;
    value = divideRational(value, divisor);
  }
  return sign === '-' ? negateRational(value) : value;
}

/** `12`, `-7/3`: the exact value, as {@link parseRational} reads it. */
export const rationalToText = (a: Rational): string =>
  a.denominator === 1n ? `${a.numerator}` : `${a.numerator}/${a.denominator}`;

/** The exact value of a finite double (every one is a fraction with a power of two below). */
export function rationalFromNumber(value: number): Rational {
  const decimal = parseRational(String(value));
  if (!decimal) throw new RangeError(`${value} is not a finite number.`);
  return decimal;
}
