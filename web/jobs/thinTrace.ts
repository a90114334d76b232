/** A point of a curve to draw. */
export interface CurvePoint {
  readonly t: number;
  readonly v: number;
}

/**
 * Thins a channel for drawing: of each bucket of samples its smallest and its largest, in their order, so that no peak is
 * lost. Gives at most `points` points of the window from `start` to `end` s.
 */
export function thinTrace(
  channel: ArrayLike<number>,
  period: number,
  points: number,
  start = 0,
  end = channel.length * period,
): CurvePoint[] {
  const first = Math.max(0, Math.floor(start / period));
  const last = Math.min(channel.length - 1, Math.ceil(end / period));
  const count = last - first + 1;
  const curve: CurvePoint[] = [];
  if (count <= points) {
    for (let k = first; k <= last; k++) curve.push({ t: k * period, v: channel[k] ?? 0 });
    return curve;
  }
  const buckets = Math.max(1, Math.floor(points / 2));
  for (let bucket = 0; bucket < buckets; bucket++) {
    const from = first + Math.floor((bucket * count) / buckets);
    const to = first + Math.floor(((bucket + 1) * count) / buckets);
    let [low, high] = [from, from];
    let [least, greatest] = [Infinity, -Infinity];
    for (let k = from; k < to; k++) {
      const value = channel[k] as number;
      if (value < least) {
        least = value;
        low = k;
      }
      if (value > greatest) {
        greatest = value;
        high = k;
      }
    }
    for (const k of low < high ? [low, high] : low > high ? [high, low] : [low])
      curve.push({ t: k * period, v: channel[k] ?? 0 });
  }
  return curve;
}
