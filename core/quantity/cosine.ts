import { multiplyRational, rational, type Rational } from './rational.ts';
import { exactRatio, toRational, type Exact } from './exact.ts';

/** Decimals carried in the series; the result is good to more than 45. */
const decimals = 60n;

/**
 * The cosine of an angle, as a fraction good to more than 45 digits: it is irrational for all but a few angles, so this is
 * as near as a ratio gets. Taylor series in whole numbers.
 * @param degrees any angle; whole turns are taken off before the series begins
 */
export function cosineOf(degrees: Rational): Exact {
  const turn = 360n * degrees.denominator;
  const within = rational(degrees.numerator % turn, degrees.denominator);
  const radians = toRational(exactRatio(multiplyRational(within, rational(1, 180)), 1));
  const one = 10n ** decimals;
  const x = (radians.numerator * one) / radians.denominator;
  const square = (x * x) / one;
  let [sum, term] = [one, one];
  for (let k = 1n; term !== 0n; k++) {
    term = (-term * square) / (one * (2n * k - 1n) * (2n * k));
    sum += term;
  }
  return exactRatio(rational(sum, one));
}
