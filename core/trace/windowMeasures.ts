/** What a channel does within a window; in its unit. Missing samples do not count. */
export interface WindowMeasures {
  /** Samples that count, and those that are missing. */
  readonly count: number;
  readonly missing: number;
  readonly least: number;
  readonly greatest: number;
  /** The farthest from zero. */
  readonly peak: number;
  readonly mean: number;
  readonly rms: number;
  /** About the mean. */
  readonly standardDeviation: number;
}

/** Measures samples from `from` up to, not including, `to`. @returns undefined where none counts */
export function windowMeasures(values: Float64Array, from = 0, to = values.length): WindowMeasures | undefined {
  const [first, end] = [Math.max(0, from), Math.min(values.length, to)];
  let [count, sum, least, greatest] = [0, 0, Infinity, -Infinity];
  for (let k = first; k < end; k++) {
    const value = values[k] as number;
    if (value !== value) continue;
    count++;
    sum += value;
    if (value < least) least = value;
    if (value > greatest) greatest = value;
  }
  if (count === 0) return undefined;
  const mean = sum / count;
  // About the mean in a second pass: a position far from zero would lose its scatter to rounding.
  let about = 0;
  for (let k = first; k < end; k++) {
    const value = (values[k] as number) - mean;
    if (value === value) about += value * value;
  }
  return {
    count,
    missing: end - first - count,
    least,
    greatest,
    peak: Math.max(Math.abs(least), Math.abs(greatest)),
    mean,
    rms: Math.sqrt(mean * mean + about / count),
    standardDeviation: Math.sqrt(about / count),
  };
}
