import { windowMeasures } from './windowMeasures.ts';
import type { MoveMeasures } from './moveMeasures.ts';

/** A cycle that a recording repeats; s. */
export interface FoundCycle {
  readonly from: number;
  /** Of the last whole cycle. */
  readonly to: number;
  readonly period: number;
  readonly cycles: number;
  readonly moves: number;
}

/** Shares by which lengths of moves and the time between them may differ from cycle to cycle. */
const [sameLength, sameTime] = [0.02, 0.03];

/** The shortest sequence of moves that comes twice or more from the first one on; undefined: none does. */
export function cycleOf(moves: readonly MoveMeasures[]): FoundCycle | undefined {
  for (let length = 1; 2 * length <= moves.length; length++) {
    // The last cycle is whole where the next one begins.
    const cycles = Math.floor((moves.length - 1) / length);
    const starts = Array.from({ length: cycles + 1 }, (_, k) => moves[k * length]?.from ?? NaN);
    const [from = NaN, second = NaN] = starts;
    const period = second - from;
    const repeats = moves.every((move, k) => {
      const first = moves[k % length];
      return first !== undefined && Math.abs(move.distance - first.distance) <= sameLength * Math.abs(first.distance);
    });
    const isRegular = starts.every(
      (start, k) => Math.abs(start - from - k * period) <= sameTime * period * Math.max(1, k),
    );
    if (cycles >= 1 && repeats && isRegular) return { from, to: starts.at(-1) ?? NaN, period, cycles, moves: length };
  }
  return undefined;
}

/** RMS of a channel over whole cycles; undefined: nothing was recorded there. */
export const cycleRms = (values: Float64Array, samplePeriod: number, { from, to }: FoundCycle): number | undefined =>
  windowMeasures(values, Math.round(from / samplePeriod), Math.round(to / samplePeriod))?.rms;
