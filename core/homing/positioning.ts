/** How well positions repeat, by ISO 230-2 (from memory), in the unit of what was measured. */
export interface Positioning {
  /** Mean deviation of each direction, and of both. */
  readonly meanPlus: number;
  readonly meanMinus: number;
  /** Standard deviation with n − 1. */
  readonly deviationPlus: number;
  readonly deviationMinus: number;
  /** Repeatability of one direction: four standard deviations. */
  readonly repeatabilityPlus: number;
  readonly repeatabilityMinus: number;
  /** Reversal value: mean of plus less mean of minus. */
  readonly reversal: number;
  /** Bidirectional repeatability: max(2·s↑ + 2·s↓ + |B|, R↑, R↓). */
  readonly bidirectional: number;
}

export interface Scatter {
  readonly mean: number;
  /** With n − 1. */
  readonly standardDeviation: number;
  readonly range: number;
}

/** @param values two or more @throws RangeError with fewer */
export function scatterOf(values: readonly number[]): Scatter {
  if (values.length < 2) throw new RangeError('A scatter needs two values or more.');
  const mean = values.reduce((sum, each) => sum + each, 0) / values.length;
  const squares = values.reduce((sum, each) => sum + (each - mean) ** 2, 0);
  return {
    mean,
    standardDeviation: Math.sqrt(squares / (values.length - 1)),
    range: Math.max(...values) - Math.min(...values),
  };
}

/** @param plus deviations of a target position approached towards plus, five as the standard has it; @param minus towards minus */
export function positioningOf(plus: readonly number[], minus: readonly number[]): Positioning {
  const [up, down] = [scatterOf(plus), scatterOf(minus)];
  const reversal = up.mean - down.mean;
  const [repeatabilityPlus, repeatabilityMinus] = [4 * up.standardDeviation, 4 * down.standardDeviation];
  return {
    meanPlus: up.mean,
    meanMinus: down.mean,
    deviationPlus: up.standardDeviation,
    deviationMinus: down.standardDeviation,
    repeatabilityPlus,
    repeatabilityMinus,
    reversal,
    bidirectional: Math.max(
      2 * up.standardDeviation + 2 * down.standardDeviation + Math.abs(reversal),
      repeatabilityPlus,
      repeatabilityMinus,
    ),
  };
}
