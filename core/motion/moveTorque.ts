import type { MoveProfile } from './moveProfile.ts';

/** An axis as its motor feels it: torques in N·m and inertias in kg·m² at the shaft, or forces in N and masses in kg. */
export interface TorqueModel {
  readonly inertia: number;
  /** Opposes motion. */
  readonly friction: number;
  /** Needed to hold the load against gravity; positive when a move towards plus has to lift. */
  readonly gravity: number;
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
 * Peak and root-mean-square torque of a move there and back with a dwell after each.
 * In a stretch of constant jerk the torque is a straight line, so its square is integrated exactly (Simpson's rule is
 * exact for it). RMS torque over a duty cycle as in Oberg et al., Machinery's Handbook, and IEC 60034-1 duty S3…S8.
 */
export function moveTorque(profile: MoveProfile, dwell: number, model: TorqueModel): MoveTorque {
  let [peak, squares, speedSquares] = [Math.abs(model.gravity), 0, 0];
  for (const direction of [1, -1]) {
    for (const segment of profile.segments) {
      const sense = Math.sign(direction * profile.distance);
      const torqueAt = (t: number) =>
        model.inertia * model.radiansPerUnit * direction * (segment.acceleration + segment.jerk * t) +
        model.friction * sense +
        model.gravity;
      const speedAt = (t: number) =>
        (segment.speed + (segment.acceleration + 0.5 * segment.jerk * t) * t) * model.radiansPerUnit;
      const [first, middle, last] = [torqueAt(0), torqueAt(segment.duration / 2), torqueAt(segment.duration)];
      peak = Math.max(peak, Math.abs(first), Math.abs(last));
      squares += simpson(first ** 2, middle ** 2, last ** 2, segment.duration);
      speedSquares += simpson(
        speedAt(0) ** 2,
        speedAt(segment.duration / 2) ** 2,
        speedAt(segment.duration) ** 2,
        segment.duration,
      );
    }
    squares += model.gravity ** 2 * dwell;
  }
  const time = 2 * (profile.duration + dwell);
  if (time === 0) return { peak, rms: Math.abs(model.gravity), rmsSpeed: 0 };
  return { peak, rms: Math.sqrt(squares / time), rmsSpeed: Math.sqrt(speedSquares / time) };
}

const simpson = (first: number, middle: number, last: number, width: number) =>
  ((first + 4 * middle + last) * width) / 6;
