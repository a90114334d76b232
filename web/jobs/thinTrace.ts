/**
 * Thins a channel for drawing: of each bucket of samples its smallest and its largest, in their order, so that no peak is
 * lost. Gives at most `points` points of the window from `start` to `end` s: time and value of each, one after the other.
 */
export function thinTrace(
  channel: Float64Array,
  period: number,
  points: number,
  start = 0,
  end = channel.length * period,
): Float64Array {
  const first = Math.max(0, Math.floor(start / period));
  const last = Math.min(channel.length - 1, Math.ceil(end / period));
  const count = Math.max(0, last - first + 1);
  if (count <= points) {
    const curve = new Float64Array(2 * count);
    for (let k = 0; k < count; k++) {
      curve[2 * k] = (first + k) * period;
      curve[2 * k + 1] = channel[first + k] ?? 0;
    }
    return curve;
  }
  const buckets = Math.max(1, Math.floor(points / 2));
  const curve = new Float64Array(4 * buckets);
  const edge = (bucket: number) => first + Math.floor((bucket * count) / buckets);
  let used = 0;
  for (let bucket = 0; bucket < buckets; bucket++)
    used = addExtremes(curve, used, channel, edge(bucket), edge(bucket + 1), period);
  return curve.slice(0, used);
}

/** A function of its own, because the compiler then knows its loop to count in small whole numbers. @returns where the next is put */
function addExtremes(
  curve: Float64Array,
  used: number,
  channel: Float64Array,
  from: number,
  to: number,
  period: number,
): number {
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
  const isFalling = low > high;
  curve[used] = (isFalling ? high : low) * period;
  curve[used + 1] = isFalling ? greatest : least;
  if (low === high) return used + 2;
  curve[used + 2] = (isFalling ? low : high) * period;
  curve[used + 3] = isFalling ? least : greatest;
  return used + 4;
}

/** A thinned curve drawn over another channel instead of over time. @param curve time and value of each point @param along of the same trace */
export function thinAlong(curve: Float64Array, along: Float64Array, period: number): Float64Array {
  const drawn = new Float64Array(curve.length);
  for (let k = 0; k + 1 < curve.length; k += 2) {
    drawn[k] = along[Math.round((curve[k] ?? 0) / period)] ?? NaN;
    drawn[k + 1] = curve[k + 1] ?? NaN;
  }
  return drawn;
}
