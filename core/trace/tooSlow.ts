import type { MoveMeasures } from './moveMeasures.ts';

/** Samples that an event needs so that its height can be read. */
const fewestSamples = 5;

/** Something that is too quick for the samples of a trace. */
export interface TooQuick {
  readonly what: 'ramp' | 'oscillation' | 'resonance';
  /** s that it lasts, or of a period */
  readonly seconds: number;
  readonly samples: number;
}

/**
 * What a trace cannot show at its sample period: ramps and oscillations of fewer than five samples, and a known resonance beyond
 * half the sample rate, which looks like a slow one.
 * @param ramps s that the ramps of the moves take @param ripple Hz of the strongest oscillation @param resonance Hz, planned
 */
export function tooQuickFor(
  period: number,
  ramps: readonly number[],
  ripple: number | undefined,
  resonance: number | undefined,
): readonly TooQuick[] {
  const event = (what: TooQuick['what'], seconds: number, fewest: number): readonly TooQuick[] =>
    seconds > 0 && seconds / period < fewest ? [{ what, seconds, samples: seconds / period }] : [];
  return [
    ...event('ramp', ramps.length > 0 ? Math.min(...ramps) : 0, fewestSamples),
    ...event('oscillation', ripple ? 1 / ripple : 0, fewestSamples),
    ...event('resonance', resonance ? 1 / resonance : 0, 2),
  ];
}

/** s that the shortest ramp of a move takes, of its demand. @param demand positions */
export function rampTimes(
  demand: Float64Array,
  period: number,
  moves: readonly Pick<MoveMeasures, 'from' | 'to'>[],
): readonly number[] {
  return moves.flatMap(({ from, to }) => {
    const [first, last] = [Math.round(from / period), Math.round(to / period)];
    const step = (k: number) => Math.abs((demand[k + 1] ?? 0) - (demand[k] ?? 0));
    let top = 0;
    for (let k = first; k < last; k++) top = Math.max(top, step(k));
    if (top === 0) return [];
    let ramp = 0;
    while (first + ramp < last && step(first + ramp) < 0.95 * top) ramp++;
    return [ramp * period];
  });
}
