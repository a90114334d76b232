import { compare, divide, exact, multiply, toNumber, toRational, type Exact } from '../quantity/index.ts';
import type { Evaluation } from '../sheet/index.ts';
import type { AxisValues } from './axisSheet.ts';
import { bestFraction, partsPerMillion, type GearLimits } from './bestFractions.ts';
import type { Rational } from '../quantity/index.ts';

/** One way to set the gear: what is paid in resolution and what is reached in speed. */
export interface ResolutionChoice {
  /** axis units a pulse, as wished */
  readonly resolution: Exact;
  readonly fraction: Rational;
  readonly ppm: number;
  readonly countsPerPulse: number;
  /** axis units/s */
  readonly highestSpeed: number;
  readonly binding: readonly BindingLimit[];
}

export type BindingLimit = 'controller pulse rate' | 'drive input rate' | 'motor speed';

/** The lowest of the limits, and the names of all that share it (within one part in 10⁹). */
export function lowestLimit(limits: Readonly<Record<BindingLimit, number>>): {
  readonly speed: number;
  readonly binding: readonly BindingLimit[];
} {
  const speed = Math.min(...Object.values(limits));
  const names = Object.keys(limits) as BindingLimit[];
  return { speed, binding: names.filter((name) => limits[name] <= speed * (1 + 1e-9)) };
}

/**
 * Round resolutions (1, 2, 2.5, 5 in each decade) from one count a pulse up to where the motor's own speed binds: the
 * whole range of the trade of resolution against speed.
 */
export function resolutionChoices(results: Evaluation<AxisValues>, limits: GearLimits): readonly ResolutionChoice[] {
  const { countsPerRevolution: Q, transmissionRatio: i, travelPerTurn: L } = results;
  const { controllerPulseRate, driveInputRate, speedAtMotor, feedbackResolution } = results;
  if (Q.state === 'unknown' || i.state === 'unknown' || L.state === 'unknown') return [];
  if (controllerPulseRate.state === 'unknown' || driveInputRate.state === 'unknown') return [];
  if (speedAtMotor.state === 'unknown' || feedbackResolution.state === 'unknown') return [];
  const choices: ResolutionChoice[] = [];
  const finest = toNumber(feedbackResolution.value);
  for (let decade = Math.floor(Math.log10(finest)); decade < Math.log10(finest) + 9; decade++) {
    for (const step of [10n, 20n, 25n, 50n]) {
      const resolution = decade >= 1 ? exact(step * 10n ** BigInt(decade - 1)) : exact(step, 10n ** BigInt(1 - decade));
      if (compare(resolution, feedbackResolution.value) < 0) continue;
      const wanted = toRational(divide(multiply(Q.value, i.value, resolution), L.value));
      const fraction = bestFraction(wanted, limits);
      if (!fraction) continue;
      const ppm = partsPerMillion(fraction, wanted);
      if (Math.abs(ppm) > 10000) continue;
      const real = toNumber(resolution) * (1 + ppm / 1e6);
      const { speed, binding } = lowestLimit({
        'controller pulse rate': controllerPulseRate.value * real,
        'drive input rate': driveInputRate.value * real,
        'motor speed': speedAtMotor.value,
      });
      choices.push({
        resolution,
        fraction,
        ppm,
        countsPerPulse: Number(fraction.numerator) / Number(fraction.denominator),
        highestSpeed: speed,
        binding,
      });
      if (binding.includes('motor speed')) return choices;
    }
  }
  return choices;
}
