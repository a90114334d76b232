import {
  add,
  divide,
  exact,
  exactRatio,
  isZero,
  multiply,
  negate,
  rational,
  toNumber,
  toRational,
  type Exact,
} from '../quantity/index.ts';
import { gainOf, valueAt, type SignalRange, type TwoPointScale } from '../signal/index.ts';
import { bestFraction } from './bestFractions.ts';

/** A drive's own form of a scale, in whole numbers: value = raw · N / D + offset, raw running from 0 to its full scale. */
export interface RawScale {
  /** Negative where the value falls as the signal rises. */
  readonly numerator: bigint;
  readonly denominator: bigint;
  readonly offset: bigint;
}

type Ends = Pick<SignalRange, 'lowest' | 'highest'>;

/** A signal as the drive's raw number, before it is cut to a whole one. */
export const rawOf = (signal: Exact, { lowest, highest }: Ends, rawFullScale: Exact): Exact =>
  divide(multiply(add(signal, negate(lowest)), rawFullScale), add(highest, negate(lowest)));

/** What the drive makes of a raw number. */
export const rawValue = ({ numerator, denominator, offset }: RawScale, raw: bigint): number =>
  toNumber(add(exact(raw * numerator, denominator), exact(offset)));

/**
 * N, D and offset that put a two-point scale into a drive that counts in `unit`s of the value.
 * @param valuePerCount one whole number of the drive, in the unit of the scale's values
 * @param most the largest N and D its registers take
 * @returns undefined where both values are the same, or where no fraction fits
 */
export function rawScale(
  scale: TwoPointScale,
  range: Ends,
  rawFullScale: Exact,
  valuePerCount: Exact,
  most: { readonly numerator: bigint; readonly denominator: bigint },
): RawScale | undefined {
  const span = add(range.highest, negate(range.lowest));
  const gain = divide(multiply(gainOf(scale), span), multiply(rawFullScale, valuePerCount));
  if (isZero(gain)) return undefined;
  const size = toRational(gain);
  const falls = size.numerator < 0n;
  const fraction = bestFraction(falls ? { ...size, numerator: -size.numerator } : size, {
    numeratorMax: most.numerator,
    denominatorMax: most.denominator,
    ratioMin: rational(1n, most.denominator),
    ratioMax: rational(most.numerator),
  });
  if (!fraction) return undefined;
  const numerator = falls ? -fraction.numerator : fraction.numerator;
  // In the middle between the two points, so that what the fraction is off is shared by both.
  const middle = divide(add(scale.from.signal, scale.to.signal), exact(2));
  const wanted = divide(valueAt(scale, middle), valuePerCount);
  const got = multiply(rawOf(middle, range, rawFullScale), exact(numerator, fraction.denominator));
  return { numerator, denominator: fraction.denominator, offset: rounded(add(wanted, negate(got))) };
}

/** To the nearest whole number; halves upwards. */
function rounded(value: Exact): bigint {
  const { numerator, denominator } = toRational(add(value, exactRatio(rational(1n, 2n))));
  const quotient = numerator / denominator;
  return numerator < 0n && quotient * denominator !== numerator ? quotient - 1n : quotient;
}
