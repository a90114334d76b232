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
  blocks?: Blocks,
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
    used = addExtremes(curve, used, channel, extremesOf(channel, edge(bucket), edge(bucket + 1), blocks), period);
  return curve.slice(0, used);
}

/** A curve whose times are moved in place. @param by s */
export function movedBy(by: number, curve: Float64Array): Float64Array {
  if (by !== 0) for (let k = 0; k < curve.length; k += 2) curve[k] = (curve[k] ?? 0) + by;
  return curve;
}

/** Samples of a block. */
const blockSize = 64;

/** Where the smallest and the largest sample of each block of a channel are: a long stretch is thinned by them alone. */
export interface Blocks {
  readonly least: Int32Array;
  readonly greatest: Int32Array;
}

export function blocksOf(channel: Float64Array): Blocks {
  const count = Math.floor(channel.length / blockSize);
  const [least, greatest] = [new Int32Array(count), new Int32Array(count)];
  for (let block = 0; block < count; block++) {
    const from = block * blockSize;
    const [low, high] = extremes(channel, from, from + blockSize, from, from);
    least[block] = low;
    greatest[block] = high;
  }
  return { least, greatest };
}

/** Samples of the smallest and the largest, beginning with some that are known. A sample that is missing is neither, as long as there is another. */
function extremes(
  channel: Float64Array,
  from: number,
  to: number,
  knownLow: number,
  knownHigh: number,
): readonly [number, number] {
  let [low, high] = [knownLow, knownHigh];
  let least = channel[low] as number;
  let greatest = channel[high] as number;
  for (let k = from; k < to; k++) {
    const value = channel[k] as number;
    if (value < least || least !== least) {
      least = value;
      low = k;
    }
    if (value > greatest || greatest !== greatest) {
      greatest = value;
      high = k;
    }
  }
  return [low, high];
}

/** The same over whole blocks where there are some. */
function extremesOf(
  channel: Float64Array,
  from: number,
  to: number,
  blocks: Blocks | undefined,
): readonly [number, number] {
  const first = Math.ceil(from / blockSize);
  const end = Math.floor(to / blockSize);
  if (!blocks || end <= first) return extremes(channel, from, to, from, from);
  let [low, high] = extremes(channel, from, first * blockSize, from, from);
  let least = channel[low] as number;
  let greatest = channel[high] as number;
  for (let block = first; block < end; block++) {
    const lowHere = blocks.least[block] as number;
    const highHere = blocks.greatest[block] as number;
    const [leastHere, greatestHere] = [channel[lowHere] as number, channel[highHere] as number];
    if (leastHere < least || least !== least) {
      least = leastHere;
      low = lowHere;
    }
    if (greatestHere > greatest || greatest !== greatest) {
      greatest = greatestHere;
      high = highHere;
    }
  }
  return extremes(channel, end * blockSize, to, low, high);
}

/** Adds both extremes of a bucket in their order. @returns where the next is put */
function addExtremes(
  curve: Float64Array,
  used: number,
  channel: Float64Array,
  [low, high]: readonly [number, number],
  period: number,
): number {
  const [first, second] = [Math.min(low, high), Math.max(low, high)];
  curve[used] = first * period;
  curve[used + 1] = channel[first] as number;
  if (low === high) return used + 2;
  curve[used + 2] = second * period;
  curve[used + 3] = channel[second] as number;
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
