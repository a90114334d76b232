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
  channel: Float64Array,
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
  const edge = (bucket: number) => first + Math.floor((bucket * count) / buckets);
  for (let bucket = 0; bucket < buckets; bucket++) addExtremes(curve, channel, edge(bucket), edge(bucket + 1), period);
  return curve;
}

/** A function of its own, because the compiler then knows its loop to count in small whole numbers. */
function addExtremes(curve: CurvePoint[], channel: Float64Array, from: number, to: number, period: number): void {
  let [low, high] = [from, from];
  let least = channel[from] as number;
  let greatest = least;
  for (let k = from + 1; k < to; k++) {
    const value = channel[k] as number;
    if (value < least) {
      least = value;
      low = k;
    } else if (value > greatest) {
      greatest = value;
      high = k;
    }
  }
  const smallest = { t: low * period, v: least };
  const largest = { t: high * period, v: greatest };
  if (low < high) curve.push(smallest, largest);
  else if (low > high) curve.push(largest, smallest);
  else curve.push(smallest);
}
