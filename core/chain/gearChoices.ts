import {
  compare,
  divide,
  exact,
  multiply,
  toNumber,
  toRational,
  type Exact,
  type Rational,
} from '../quantity/index.ts';
import { all, valueOf, type Evaluation } from '../sheet/index.ts';
import type { AxisValues } from './axisValues.ts';
import type { GearCandidate } from './bestFractions.ts';
import { expressibleRatios, nearestRatio, type GearWays } from './gearForms.ts';
import { lowestLimit } from './speedLimit.ts';

/** One way to set the gear: what is paid in resolution and what is reached in speed. */
export interface GearChoice {
  /** axis units a pulse, as wished */
  readonly resolution: Exact;
  readonly fraction: Rational;
  /** Error against the resolution wished. */
  readonly ppm: number;
  readonly countsPerPulse: number;
  readonly pulsesPerRevolution: number;
  readonly stepsPerUnit: number;
  /** axis units over the whole travel; undefined where that is not known */
  readonly drift: number | undefined;
  /** axis units/s */
  readonly highestSpeed: number;
  readonly binding: readonly string[];
}

type Results = Evaluation<AxisValues>;

/** Ratios near the wanted resolution, nearest first. */
export function gearChoices(results: Results, ways: GearWays, most = 8): readonly GearChoice[] {
  const given = valueOf(all<[Exact, Exact]>(results.wantedRatio, results.wantedResolution));
  const weigh = weighing(results);
  if (!given || !weigh) return [];
  const [ratio, resolution] = given;
  return expressibleRatios(ways, toRational(ratio), most).map((candidate) => weigh(resolution, candidate));
}

/**
 * Round resolutions (1, 2, 2.5, 5 in each decade) from one count a pulse up to where nothing but the mechanics binds: the whole
 * range of the trade of resolution against speed. A switch table gives what it has.
 */
export function resolutionChoices(results: Results, ways: GearWays): readonly GearChoice[] {
  const weigh = weighing(results);
  const mechanics = valueOf(
    all<[Exact, Exact, Exact, Exact]>(
      results.countsPerRevolution,
      results.transmissionRatio,
      results.travelPerTurn,
      results.feedbackResolution,
    ),
  );
  if (!weigh || !mechanics) return [];
  const [Q, i, L, feedback] = mechanics;
  const wantedFor = (resolution: Exact) => toRational(divide(multiply(Q, i, resolution), L));
  if (ways.form === 'switch table') {
    const ratios = expressibleRatios(ways, wantedFor(feedback), 64);
    return ratios
      .map(({ fraction }) => {
        const resolution = divide(multiply(exact(fraction.numerator, fraction.denominator), L), multiply(Q, i));
        return weigh(resolution, { fraction, ppm: 0 });
      })
      .sort((a, b) => compare(a.resolution, b.resolution));
  }
  const choices: GearChoice[] = [];
  const finest = toNumber(feedback);
  for (let decade = Math.floor(Math.log10(finest)); decade < Math.log10(finest) + 9; decade++) {
    for (const step of [10n, 20n, 25n, 50n]) {
      const resolution = decade >= 1 ? exact(step * 10n ** BigInt(decade - 1)) : exact(step, 10n ** BigInt(1 - decade));
      if (compare(resolution, feedback) < 0) continue;
      const best = nearestRatio(ways, wantedFor(resolution));
      if (!best || Math.abs(best.ppm) > 10000) continue;
      const choice = weigh(resolution, best);
      choices.push(choice);
      if (!choice.binding.some((name) => rateLimits.includes(name))) return choices;
    }
  }
  return choices;
}

/** Limits that move with the resolution. */
const rateLimits: readonly string[] = ['controller pulse rate', 'drive input rate', 'pulse width'];

/** Weighs a ratio against every limit; undefined while a limit is not known. */
function weighing(results: Results): ((resolution: Exact, candidate: GearCandidate) => GearChoice) | undefined {
  const given = valueOf(
    all<[Exact, Exact, Exact, number, number, number, number]>(
      results.countsPerRevolution,
      results.transmissionRatio,
      results.travelPerTurn,
      results.controllerPulseRate,
      results.driveInputRate,
      results.pulseWidthRate,
      results.speedAtMotor,
    ),
  );
  const further = valueOf(results.furtherLimits);
  if (!given || !further) return undefined;
  const [Q, i, L, controllerRate, driveRate, widthRate, motor] = given;
  const travel = valueOf(results.travel);
  return (resolution, { fraction, ppm }) => {
    const countsPerPulse = Number(fraction.numerator) / Number(fraction.denominator);
    const pulses = divide(Q, exact(fraction.numerator, fraction.denominator));
    const stepsPerUnit = toNumber(divide(multiply(pulses, i), L));
    const { speed, binding } = lowestLimit([
      { name: 'controller pulse rate', speed: controllerRate / stepsPerUnit },
      { name: 'drive input rate', speed: driveRate / stepsPerUnit },
      { name: 'motor speed', speed: motor },
      { name: 'pulse width', speed: widthRate / stepsPerUnit },
      ...further.filter(({ name }) => name !== 'pulse width'),
    ]);
    return {
      resolution,
      fraction,
      ppm,
      countsPerPulse,
      pulsesPerRevolution: toNumber(pulses),
      stepsPerUnit,
      drift: travel && (ppm / 1e6) * toNumber(travel),
      highestSpeed: speed,
      binding,
    };
  };
}
