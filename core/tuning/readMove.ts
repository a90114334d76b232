import type { MoveChannels } from '../motion/index.ts';

/** What a trace of moves says of the settings that made it. Axis units, s, %. */
export interface MoveReading {
  /** The following error over speed, and over acceleration, by least squares over the stretches that move: s, s². */
  readonly errorPerSpeed: number;
  readonly errorPerAcceleration: number;
  /** The highest speed of the demand. */
  readonly topSpeed: number;
  /** While the speed changes, beside what is proportional to the speed: peak, and mean in the sense of the acceleration, above 0 where the axis lags. */
  readonly accelerating: { readonly peak: number; readonly mean: number };
  /** Of the squared error, the share that both explain together. */
  readonly explained: number;
  /** Peak of what they leave. */
  readonly residual: number;
  readonly peakError: number;
  /** The farthest beyond the target after a move, in its direction. */
  readonly overshoot: number;
  /** Hz and amplitude of what rings on after a move; undefined: nothing does. */
  readonly ringing: { readonly frequency: number; readonly amplitude: number } | undefined;
  /** Share of the samples in motion at which the torque was at its limit; undefined: no limit is known. */
  readonly saturated: number | undefined;
  /** The error left when a move ends, and s until a third of it is left; undefined: it goes at once. */
  readonly creep: { readonly error: number; readonly seconds: number } | undefined;
}

/** Share of the highest acceleration from which the speed counts as changing. */
const acceleratingShare = 0.1;

/** Speed and acceleration of a recorded demand, by differences over so many samples to each side. */
function derivatives(demand: Float64Array, period: number): { speed: Float64Array; acceleration: Float64Array } {
  const count = demand.length;
  const reach = Math.max(1, Math.round(0.002 / period));
  const at = (values: Float64Array, k: number) => values[Math.max(0, Math.min(count - 1, k))] ?? 0;
  const differenced = (values: Float64Array) =>
    values.map((_, k) => (at(values, k + reach) - at(values, k - reach)) / (2 * reach * period));
  const speed = differenced(demand);
  return { speed, acceleration: differenced(speed) };
}

/**
 * Reads moves: what the error is proportional to, what is left of it, what happens after a stop.
 * @param stops samples at which a move's demand has come to rest, with its direction
 * @param torqueLimit % of rated torque; undefined: not known
 */
export function readMove(
  { period, demandPosition, followingError, torque }: MoveChannels,
  stops: readonly { readonly at: number; readonly direction: 1 | -1 }[],
  torqueLimit: number | undefined,
): MoveReading | undefined {
  const { speed, acceleration } = derivatives(demandPosition, period);
  const top = speed.reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  if (top === 0) return undefined;
  let [vv, va, aa, ve, ae, ee, moving, limited, peakError] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  const isMoving = (k: number) => Math.abs(speed[k] ?? 0) > 0.01 * top;
  for (let k = 0; k < followingError.length; k++) {
    const [e, v, a] = [followingError[k] ?? NaN, speed[k] ?? 0, acceleration[k] ?? 0];
    if (Number.isNaN(e)) continue;
    peakError = Math.max(peakError, Math.abs(e));
    if (!isMoving(k)) continue;
    moving++;
    if (torqueLimit !== undefined && Math.abs(torque[k] ?? 0) >= 0.98 * torqueLimit) limited++;
    vv += v * v;
    va += v * a;
    aa += a * a;
    ve += v * e;
    ae += a * e;
    ee += e * e;
  }
  const determinant = vv * aa - va * va;
  if (moving < 10 || determinant <= 0) return undefined;
  const errorPerSpeed = (ve * aa - ae * va) / determinant;
  const errorPerAcceleration = (ae * vv - ve * va) / determinant;
  const hardest = acceleration.reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  let [residual, left, accelerating, inSense, accelerated] = [0, 0, 0, 0, 0];
  for (let k = 0; k < followingError.length; k++) {
    if (!isMoving(k) || Number.isNaN(followingError[k])) continue;
    const [a, besideSpeed] = [acceleration[k] ?? 0, (followingError[k] ?? 0) - errorPerSpeed * (speed[k] ?? 0)];
    const rest = besideSpeed - errorPerAcceleration * a;
    if (Math.abs(a) > acceleratingShare * hardest) {
      accelerating = Math.max(accelerating, Math.abs(besideSpeed));
      inSense += Math.sign(a) * besideSpeed;
      accelerated++;
    }
    residual = Math.max(residual, Math.abs(rest));
    left += rest * rest;
  }
  const ends = stops.map(({ at, direction }) =>
    afterStop(followingError.subarray(at, restEnd(demandPosition, at, period)), period, direction),
  );
  const rings = ends.flatMap(({ ringing }) => (ringing ? [ringing] : []));
  const creeps = ends.flatMap(({ creep }) => (creep ? [creep] : []));
  return {
    errorPerSpeed,
    errorPerAcceleration,
    topSpeed: top,
    accelerating: { peak: accelerating, mean: accelerated > 0 ? inSense / accelerated : 0 },
    explained: ee > 0 ? 1 - left / ee : 1,
    residual,
    peakError,
    overshoot: Math.max(0, ...ends.map(({ overshoot }) => overshoot)),
    ringing: rings.sort((a, b) => b.amplitude - a.amplitude)[0],
    saturated: torqueLimit === undefined ? undefined : limited / moving,
    creep: creeps.sort((a, b) => Math.abs(b.error) - Math.abs(a.error))[0],
  };
}

/** s after a stop that are looked at. */
const watchedAfter = 0.5;

/** Where the rest after a stop ends: the demand moves again, or it has been watched for long enough. */
function restEnd(demand: Float64Array, at: number, period: number): number {
  const most = Math.min(demand.length, at + Math.round(watchedAfter / period));
  for (let k = at + 1; k < most; k++) if (Math.abs((demand[k] ?? 0) - (demand[at] ?? 0)) > 1e-9) return k;
  return most;
}

/** Overshoot, ringing by its zero crossings, and slow creep after a stop. */
function afterStop(
  error: Float64Array,
  period: number,
  direction: 1 | -1,
): Pick<MoveReading, 'overshoot' | 'ringing' | 'creep'> {
  const after = error.filter((each) => !Number.isNaN(each));
  // Error is demand less actual: beyond the target it has the sign against the motion.
  const overshoot = after.reduce((most, each) => Math.max(most, -direction * each), 0);
  const rest =
    after.slice(Math.floor(0.8 * after.length)).reduce((sum, each) => sum + each, 0) / (0.2 * after.length || 1);
  const swing = after.map((each) => each - rest);
  const size = swing.reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  const crossings: number[] = [];
  let peaks: number[] = [];
  let peak = 0;
  for (let k = 1; k < swing.length; k++) {
    const [before, now] = [swing[k - 1] ?? 0, swing[k] ?? 0];
    peak = Math.max(peak, Math.abs(now));
    if (before > 0 === now > 0) continue;
    crossings.push(k - before / (before - now || 1));
    peaks = [...peaks, peak];
    peak = 0;
  }
  // What swings at least thrice, by a tenth of what is left at the stop or more, rings.
  const strong = peaks.filter((each) => each > 0.1 * size).length;
  const [first, last] = [crossings[0], crossings[Math.max(0, strong - 1)]];
  const ringing =
    strong >= 4 && first !== undefined && last !== undefined && last > first
      ? { frequency: (strong - 1) / (2 * (last - first) * period), amplitude: peaks[1] ?? 0 }
      : undefined;
  const start = after[0] ?? 0;
  const third = after.findIndex((each) => Math.abs(each) < Math.abs(start) / 3);
  const creep =
    !ringing && Math.abs(start) > 0 && third * period > 0.05 ? { error: start, seconds: third * period } : undefined;
  return { overshoot, ringing, creep };
}
