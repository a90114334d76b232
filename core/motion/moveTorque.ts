import { motorTorque, powerReversals, type DriveTrain, type Sense } from './driveTrain.ts';
import type { MoveProfile, Segment } from './moveProfile.ts';

/** A drive train as the axis units of a move see it. */
export interface TorqueModel extends DriveTrain {
  /** Motor radians, or metres, for one axis unit. */
  readonly radiansPerUnit: number;
}

export interface MoveTorque {
  readonly peak: number;
  /** Over the move there, its dwell, the move back and its dwell. */
  readonly rms: number;
  /** rad/s or m/s, the root mean square over the same time: where on the motor's curve the torque is to be judged. */
  readonly rmsSpeed: number;
}

/**
 * Peak and root-mean-square torque of a move there and back with a dwell after each, in which gravity is held without losses.
 * Between the moments at which power changes its direction in a stage the torque is a straight line over time, so Simpson's
 * rule integrates its square exactly. RMS torque over a duty cycle as in Oberg et al., Machinery's Handbook, and IEC 60034-1
 * duty S3…S8.
 */
export function moveTorque(profile: MoveProfile, dwell: number, train: TorqueModel): MoveTorque {
  const { radiansPerUnit } = train;
  let [peak, squares, speedSquares] = [Math.abs(train.gravity), 0, 0];
  for (const direction of [1, -1] as const) {
    const sense: Sense = direction * profile.distance < 0 ? -1 : 1;
    const reversals = powerReversals(train, sense);
    for (const segment of profile.segments) {
      const accelerationAt = (t: number) => radiansPerUnit * direction * (segment.acceleration + segment.jerk * t);
      const slope = radiansPerUnit * direction * segment.jerk;
      const times = [0, ...turningTimes(segment, accelerationAt(0), slope, reversals), segment.duration];
      for (let k = 1; k < times.length; k++) {
        const [from, to] = [times[k - 1] as number, times[k] as number];
        const [first, middle, last] = [from, (from + to) / 2, to].map((t) =>
          motorTorque(train, accelerationAt(t), sense),
        ) as [number, number, number];
        peak = Math.max(peak, Math.abs(first), Math.abs(last));
        squares += ((first ** 2 + 4 * middle ** 2 + last ** 2) * (to - from)) / 6;
      }
      speedSquares += radiansPerUnit ** 2 * integratedSpeedSquare(segment);
    }
    squares += train.gravity ** 2 * dwell;
  }
  const time = 2 * (profile.duration + dwell);
  if (time === 0) return { peak, rms: Math.abs(train.gravity), rmsSpeed: 0 };
  return { peak, rms: Math.sqrt(squares / time), rmsSpeed: Math.sqrt(speedSquares / time) };
}

/** Moments within a stretch at which the torque over time has a corner. */
const turningTimes = (segment: Segment, acceleration: number, slope: number, reversals: readonly number[]) =>
  slope === 0
    ? []
    : reversals
        .map((reversal) => (reversal - acceleration) / slope)
        .filter((t) => t > 0 && t < segment.duration)
        .sort((a, b) => a - b);

/** ∫ v² dt over a stretch, v = v₀ + a·t + ½·j·t²: a polynomial of the fourth degree, integrated term by term. */
function integratedSpeedSquare({ speed: v, acceleration: a, jerk: j, duration: t }: Segment): number {
  return t * (v * v + t * (v * a + t * ((a * a + v * j) / 3 + t * ((a * j) / 4 + (t * j * j) / 20))));
}
