/** When a recording is looked at from: a channel crosses a level. */
export interface Trigger {
  readonly level: number;
  readonly edge: 'rising' | 'falling';
  /** Which of the crossings, from 1. */
  readonly nth: number;
}

/**
 * The sample, interpolated, at which a channel crosses a level; undefined: it never does. A sample at the level counts as across it, and
 * over a gap nothing crosses.
 */
export function triggerOf(values: Float64Array, { level, edge, nth }: Trigger): number | undefined {
  const sense = edge === 'rising' ? 1 : -1;
  let found = 0;
  for (let k = 1; k < values.length; k++) {
    const before = sense * ((values[k - 1] ?? NaN) - level);
    const now = sense * ((values[k] ?? NaN) - level);
    if (!(before < 0 && now >= 0) || ++found < nth) continue;
    return k - now / (now - before);
  }
  return undefined;
}
