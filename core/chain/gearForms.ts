import {
  compareRational,
  divide,
  divideRational,
  exact,
  exactRatio,
  isWhole,
  rational,
  toRational,
  type Exact,
  type Rational,
} from '../quantity/index.ts';
import { all, map, valueOf, type Evaluation, type Outcome } from '../sheet/index.ts';
import type { AxisInput, RatioForm } from './axisInput.ts';
import type { AxisValues } from './axisValues.ts';
import { bestFraction, gearCandidates, partsPerMillion, type GearCandidate, type GearLimits } from './bestFractions.ts';

/** What one keys in to give a drive its ratio. */
export type GearKeying =
  | { readonly kind: 'ratio'; readonly above: bigint; readonly below: bigint }
  | { readonly kind: 'pulsesPerRevolution'; readonly pulses: Exact }
  | { readonly kind: 'switches'; readonly switches: string; readonly pulses: Exact }
  | { readonly kind: 'multiplier'; readonly multiplier: Exact }
  /** The drive cannot be set to this ratio. */
  | { readonly kind: 'impossible'; readonly because: string };

/** Turns a ratio N/D into what the drive's form takes. A manual that writes D/N swaps the two. */
export function keyedGear(
  input: Pick<AxisInput, 'ratioForm' | 'ratioInverted' | 'switchTable'>,
  countsPerRevolution: Exact,
  numerator: Exact,
  denominator: Exact,
): GearKeying {
  const ratio = divide(numerator, denominator);
  switch (input.ratioForm) {
    case 'numerator and denominator': {
      const [n, d] = [toRational(numerator).numerator, toRational(denominator).numerator];
      return input.ratioInverted ? { kind: 'ratio', above: d, below: n } : { kind: 'ratio', above: n, below: d };
    }
    case 'pulses per revolution': {
      const pulses = divide(countsPerRevolution, ratio);
      return isWhole(pulses)
        ? { kind: 'pulsesPerRevolution', pulses }
        : {
            kind: 'impossible',
            because: 'the drive accepts only whole pulses per revolution, and this ratio does not give a whole number',
          };
    }
    case 'switch table': {
      const pulses = toRational(divide(countsPerRevolution, ratio));
      for (const row of input.switchTable) {
        const value = valueOf(row.pulses);
        if (value && compareRational(toRational(value), pulses) === 0)
          return { kind: 'switches', switches: row.switches, pulses: value };
      }
      return { kind: 'impossible', because: 'no position of the switches gives this ratio' };
    }
    case 'multiplier': {
      const multiplier = input.ratioInverted ? divide(exact(1), ratio) : ratio;
      return isWhole(multiplier)
        ? { kind: 'multiplier', multiplier }
        : { kind: 'impossible', because: 'the drive accepts only whole multipliers' };
    }
  }
}

/** The keying of the ratio in use. */
export const keyingOf = (input: AxisInput, results: Evaluation<AxisValues>): Outcome<GearKeying> =>
  map(
    all<[Exact, Exact, Exact]>(results.countsPerRevolution, results.gearNumerator, results.gearDenominator),
    ([Q, N, D]) => keyedGear(input, Q, N, D),
  );

/** What a further ratio of the drive makes of the axis. */
export interface GearSetResult {
  readonly stepsPerUnit: Exact;
  /** axis units a pulse */
  readonly resolution: Exact;
  /** How many times as far a pulse goes as with the first ratio. */
  readonly timesAsFar: Exact;
}

/** The further ratios, in their order. */
export const gearSetResults = (input: AxisInput, results: Evaluation<AxisValues>): readonly Outcome<GearSetResult>[] =>
  input.gearSets.map(({ numerator, denominator }) =>
    map(
      all<[Exact, Exact, Exact, Exact]>(numerator, denominator, results.countsPerPulse, results.stepsPerUnit),
      ([N, D, first, steps]) => {
        const timesAsFar = divide(divide(N, D), first);
        const stepsPerUnit = divide(steps, timesAsFar);
        return { stepsPerUnit, resolution: divide(exact(1), stepsPerUnit), timesAsFar };
      },
    ),
  );

/** A drive's ways to be given a ratio. */
export interface GearWays {
  readonly form: RatioForm;
  readonly ratioInverted: boolean;
  readonly countsPerRevolution: Exact;
  readonly limits: GearLimits;
  readonly switchTable: AxisInput['switchTable'];
}

export const gearWays = (input: AxisInput, results: Evaluation<AxisValues>): GearWays | undefined => {
  const both = valueOf(all<[Exact, GearLimits]>(results.countsPerRevolution, results.gearLimits));
  return (
    both && {
      form: input.ratioForm,
      ratioInverted: input.ratioInverted,
      countsPerRevolution: both[0],
      limits: both[1],
      switchTable: input.switchTable,
    }
  );
};

/** Ratios near a wanted one that the drive can be set to, nearest first. @param target positive */
export function expressibleRatios(ways: GearWays, target: Rational, most: number): readonly GearCandidate[] {
  const counts = toRational(ways.countsPerRevolution);
  const fromPulses = (pulses: Rational) => divideRational(counts, pulses);
  switch (ways.form) {
    case 'numerator and denominator':
      return gearCandidates(target, ways.limits, most);
    case 'pulses per revolution':
      return nearest(wholeNear(divideRational(counts, target), most).map(fromPulses), ways.limits, target, most);
    case 'switch table': {
      const values = ways.switchTable.flatMap((row) => valueOf(row.pulses) ?? []);
      return nearest(
        values.map((value) => fromPulses(toRational(value))),
        undefined,
        target,
        most,
      );
    }
    case 'multiplier': {
      const one = rational(1);
      const wholes = wholeNear(ways.ratioInverted ? divideRational(one, target) : target, most);
      const ratios = ways.ratioInverted ? wholes.map((whole) => divideRational(one, whole)) : wholes;
      return nearest(ratios, ways.limits, target, most);
    }
  }
}

/** The nearest of them; undefined where there is none. */
export function nearestRatio(ways: GearWays, target: Rational): GearCandidate | undefined {
  if (ways.form !== 'numerator and denominator') return expressibleRatios(ways, target, 2)[0];
  const fraction = bestFraction(target, ways.limits);
  return fraction && { fraction, ppm: partsPerMillion(fraction, target) };
}

/** Whole numbers around a value, at least 1. */
function wholeNear(value: Rational, most: number): Rational[] {
  const below = value.numerator / value.denominator;
  const first = below - BigInt(Math.floor((most - 1) / 2));
  return Array.from({ length: most }, (_, k) => first + BigInt(k))
    .filter((whole) => whole >= 1n)
    .map((whole) => rational(whole));
}

function nearest(
  ratios: readonly Rational[],
  limits: GearLimits | undefined,
  target: Rational,
  most: number,
): readonly GearCandidate[] {
  return ratios
    .filter(
      (ratio) =>
        limits === undefined ||
        (compareRational(ratio, limits.ratioMin) >= 0 && compareRational(ratio, limits.ratioMax) <= 0),
    )
    .map((fraction) => ({ fraction, ppm: partsPerMillion(fraction, target) }))
    .sort((a, b) => Math.abs(a.ppm) - Math.abs(b.ppm))
    .slice(0, most);
}

/** The ratio of a drive that turns once for so many pulses, as N and D. */
export const gearForPulses = (countsPerRevolution: Exact, pulses: Exact): Rational =>
  toRational(divide(countsPerRevolution, exactRatio(toRational(pulses))));
