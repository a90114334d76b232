import { accelerationStretches, type DriveTrain, type Sense } from './driveTrain.ts';

/** How an axis can be brought to rest. */
export const stopWays = [
  'ramp',
  'quick stop',
  'limit switch',
  'lost link',
  'coast',
  'safe torque off',
  'supply cut',
] as const;
export type StopWay = (typeof stopWays)[number];

/** Of IEC 60204-1, 9.2.1: 0 power removed at once; 1 a controlled stop, then power removed; 2 a controlled stop with power kept. */
export type StopCategory = 0 | 1 | 2;

/** A mechanism that stops an axis, at the motor shaft: N·m, kg·m², rad/s; of a linear motor N, kg, m/s. */
export interface StoppingAxis {
  readonly train: DriveTrain;
  /** rad/s, from which it stops; positive */
  readonly speed: number;
  /** Towards plus, or towards minus. */
  readonly sense: Sense;
}

/** What brakes it, in turn; the last one for good. */
export interface StopPhase {
  /** s; the last phase lasts until rest */
  readonly seconds: number;
  /** The speed is held; a deceleration in rad/s² is demanded; or a torque in N·m works against the motion, 0 for coasting. */
  readonly by:
    'nothing yet' | { readonly deceleration: number; readonly torqueLimit: number } | { readonly torque: number };
}

export interface Stopping {
  /** s and rad of the motor, from the order to rest */
  readonly time: number;
  readonly distance: number;
  /** The torque limit makes the ramp longer than planned. */
  readonly isTorqueLimited: boolean;
}

/** rad/s² in the sense of motion that a torque in N·m in this sense gives; negative slows down. */
export function accelerationIn({ train, sense }: Pick<StoppingAxis, 'train' | 'sense'>, torque: number): number {
  const stretches = accelerationStretches(train, sense);
  const motor = sense * torque;
  const stretch = stretches.findLast(({ from }) => motor >= from) ?? stretches[0];
  return stretch ? (sense * (motor - stretch.offset)) / stretch.inertia : 0;
}

/** The acceleration of one phase, and whether the torque limit sets it. */
function accelerationOf(axis: StoppingAxis, { by }: StopPhase): { acceleration: number; isLimited: boolean } {
  if (by === 'nothing yet') return { acceleration: 0, isLimited: false };
  if ('torque' in by) return { acceleration: accelerationIn(axis, -by.torque), isLimited: false };
  const possible = -accelerationIn(axis, -by.torqueLimit);
  const isLimited = possible < by.deceleration;
  return { acceleration: -Math.min(possible, by.deceleration), isLimited };
}

/**
 * Time and distance to rest: in each phase uniform acceleration, s = v·t + ½·a·t². Friction and gravity brake a coasting axis, a
 * stage of bad efficiency more than a good one.
 * @returns undefined when it does not come to rest: gravity drives it on, or its torque is too small to hold it
 */
export function stopping(axis: StoppingAxis, phases: readonly StopPhase[]): Stopping | undefined {
  let { speed } = axis;
  let [time, distance] = [0, 0];
  let isTorqueLimited = false;
  for (const [k, phase] of phases.entries()) {
    const { acceleration, isLimited } = accelerationOf(axis, phase);
    isTorqueLimited ||= isLimited;
    const isLast = k === phases.length - 1;
    const toRest = acceleration < 0 ? -speed / acceleration : Infinity;
    const seconds = isLast ? toRest : Math.min(phase.seconds, toRest);
    if (!Number.isFinite(seconds)) return undefined;
    distance += speed * seconds + (acceleration * seconds ** 2) / 2;
    speed = Math.max(0, speed + acceleration * seconds);
    time += seconds;
    if (speed === 0 || toRest <= seconds) break;
  }
  // Values that no axis has end up beyond what can be counted.
  return Number.isFinite(distance) ? { time, distance, isTorqueLimited } : undefined;
}

/**
 * How far an axis runs, at the worst, that is driven away by a torque from rest: until it has gone `window` and trips, then, after
 * `tripTime`, until what is left brakes it. The torque works with gravity where that is worse.
 * @param torque N·m that the drive may give
 * @param window rad
 * @param afterTrip what brakes it from then on
 * @returns rad from where it stood; undefined when nothing stops it
 */
export function runawayAtRest(
  train: DriveTrain,
  torque: number,
  window: number,
  tripTime: number,
  afterTrip: readonly StopPhase[],
): number | undefined {
  let worst = 0;
  for (const sense of [1, -1] as const) {
    const acceleration = accelerationIn({ train, sense }, torque);
    if (acceleration <= 0) continue;
    const atTrip = Math.sqrt(2 * acceleration * window);
    const later = atTrip + acceleration * tripTime;
    const rest = stopping({ train, sense, speed: later }, afterTrip);
    if (!rest) return undefined;
    if (!Number.isFinite(later)) return undefined;
    worst = Math.max(worst, window + ((atTrip + later) / 2) * tripTime + rest.distance);
  }
  return worst;
}
