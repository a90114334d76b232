export interface Bar {
  readonly from: number;
  readonly to: number;
  readonly count: number;
}

const bins = 30;

/** So many values between equal steps from the smallest to the largest. @param also places that have to lie within, too */
export function histogramOf(values: readonly number[], also: readonly number[] = []): readonly Bar[] {
  const [low, high] = [...values, ...also].reduce(
    ([a, b], each) => [Math.min(a, each), Math.max(b, each)],
    [Infinity, -Infinity],
  );
  if (!(high > low)) return [];
  const step = (high - low) / bins;
  const counts = new Array<number>(bins).fill(0);
  for (const each of values) {
    const bin = Math.min(bins - 1, Math.floor((each - low) / step));
    counts[bin] = (counts[bin] ?? 0) + 1;
  }
  return counts.map((count, k) => ({ from: low + k * step, to: low + (k + 1) * step, count }));
}
