import { compareRational, rational, rationalToNumber, type Rational } from '../quantity/index.ts';

/** What a drive's registers take for an electronic gear ratio N/D. Bounds are inclusive. */
export interface GearLimits {
  readonly numeratorMax: bigint;
  readonly denominatorMax: bigint;
  readonly ratioMin: Rational;
  readonly ratioMax: Rational;
}

/** A fraction that fits, and how far it is from the wanted ratio. */
export interface GearCandidate {
  readonly fraction: Rational;
  /** (got / wanted − 1) · 10⁶ */
  readonly ppm: number;
}

interface Neighbours {
  readonly below: Rational | undefined;
  readonly above: Rational | undefined;
  /** The descent, coarse to fine. */
  readonly path: readonly Rational[];
}

const reduced = (numerator: bigint, denominator: bigint): Rational => ({ numerator, denominator });

/**
 * The two fractions with N and D inside their limits that enclose a positive target most closely.
 * Descends the Stern–Brocot tree (Graham, Knuth, Patashnik, Concrete Mathematics, 4.5) many steps at a time: the
 * continued-fraction quotients of the target say how many steps go the same way.
 */
function neighbours(target: Rational, limits: GearLimits): Neighbours {
  const { numeratorMax, denominatorMax } = limits;
  let [lowN, lowD, highN, highD] = [0n, 1n, 1n, 0n];
  let [p, q] = [target.numerator, target.denominator];
  let towardsHigh = true;
  const path: Rational[] = [];
  while (q !== 0n) {
    const quotient = p / q;
    const [stepN, stepD, fromN, fromD] = towardsHigh ? [highN, highD, lowN, lowD] : [lowN, lowD, highN, highD];
    let steps = quotient;
    if (stepN > 0n) steps = smaller(steps, (numeratorMax - fromN) / stepN);
    if (stepD > 0n) steps = smaller(steps, (denominatorMax - fromD) / stepD);
    const [n, d] = [fromN + steps * stepN, fromD + steps * stepD];
    if (steps > 0n) {
      for (const back of steps > 2n ? [steps / 2n, 1n, 0n] : steps > 1n ? [1n, 0n] : [0n]) {
        const [candidateN, candidateD] = [n - back * stepN, d - back * stepD];
        if (candidateN > 0n && candidateD > 0n) path.push(reduced(candidateN, candidateD));
      }
    }
    if (towardsHigh) [lowN, lowD] = [n, d];
    else [highN, highD] = [n, d];
    if (steps < quotient) break;
    [p, q] = [q, p - quotient * q];
    towardsHigh = !towardsHigh;
  }
  return {
    below: lowN > 0n ? reduced(lowN, lowD) : undefined,
    above: highD > 0n ? reduced(highN, highD) : undefined,
    path,
  };
}

const smaller = (a: bigint, b: bigint) => (a < b ? a : b);

/** (got / wanted − 1) · 10⁶, from exact values. */
export const partsPerMillion = (got: Rational, wanted: Rational): number => {
  const difference = got.numerator * wanted.denominator - wanted.numerator * got.denominator;
  return difference === 0n ? 0 : rationalToNumber(rational(difference * 1000000n, wanted.numerator * got.denominator));
};

const distance = (a: Rational, b: Rational): Rational => {
  const difference = a.numerator * b.denominator - b.numerator * a.denominator;
  return reduced(difference < 0n ? -difference : difference, a.denominator * b.denominator);
};

const closer = (a: Rational, b: Rational, target: Rational): boolean => {
  const [x, y] = [distance(a, target), distance(b, target)];
  return x.numerator * y.denominator < y.numerator * x.denominator;
};

const clamp = (target: Rational, limits: GearLimits): Rational =>
  compareRational(target, limits.ratioMin) < 0
    ? limits.ratioMin
    : compareRational(target, limits.ratioMax) > 0
      ? limits.ratioMax
      : target;

const fits = (fraction: Rational, limits: GearLimits): boolean =>
  fraction.numerator <= limits.numeratorMax &&
  fraction.denominator <= limits.denominatorMax &&
  compareRational(fraction, limits.ratioMin) >= 0 &&
  compareRational(fraction, limits.ratioMax) <= 0;

/**
 * The fraction inside the limits that is nearest to the target; the simpler one of two equally near.
 * @param target positive
 * @returns undefined when no fraction at all fits the limits.
 */
export function bestFraction(target: Rational, limits: GearLimits): Rational | undefined {
  const { below, above } = neighbours(clamp(target, limits), limits);
  const low = below && fits(below, limits) ? below : undefined;
  const high = above && fits(above, limits) ? above : undefined;
  if (!low || !high) return low ?? high;
  if (closer(high, low, target)) return high;
  return closer(low, high, target) || low.denominator <= high.denominator ? low : high;
}

/**
 * Fractions worth choosing between, nearest first: the best one and the simpler ones on the way to it.
 * @param target positive
 */
export function gearCandidates(target: Rational, limits: GearLimits, most = 12): readonly GearCandidate[] {
  const { below, above, path } = neighbours(clamp(target, limits), limits);
  const kept = new Map<string, GearCandidate>();
  for (const fraction of [below, above, ...path]) {
    if (fraction && fits(fraction, limits)) {
      kept.set(`${fraction.numerator}/${fraction.denominator}`, { fraction, ppm: partsPerMillion(fraction, target) });
    }
  }
  return [...kept.values()]
    .sort((a, b) => Math.abs(a.ppm) - Math.abs(b.ppm) || Number(a.fraction.denominator - b.fraction.denominator))
    .slice(0, most);
}
