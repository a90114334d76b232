/** A stretch of constant jerk. Positions in axis units from the start of the move, times in s. */
export interface Segment {
  readonly start: number;
  readonly duration: number;
  readonly position: number;
  readonly speed: number;
  readonly acceleration: number;
  readonly jerk: number;
}

/** A move from rest to rest. */
export interface MoveProfile {
  readonly segments: readonly Segment[];
  /** Signed, axis units. */
  readonly distance: number;
  readonly duration: number;
  /** Highest speed and acceleration really reached, positive. */
  readonly peakSpeed: number;
  readonly peakAcceleration: number;
}

/** A point of a move; reused by {@link sampleMove} so that sampling allocates nothing. */
export interface MoveSample {
  position: number;
  speed: number;
  acceleration: number;
}

export const moveSample = (): MoveSample => ({ position: 0, speed: 0, acceleration: 0 });

/** Where the move is at time t; before it the start, after it the end, at rest. */
export function sampleMove(profile: MoveProfile, time: number, into: MoveSample): MoveSample {
  const { segments } = profile;
  into.speed = 0;
  into.acceleration = 0;
  if (time <= 0 || segments.length === 0) {
    into.position = 0;
    return into;
  }
  if (time >= profile.duration) {
    into.position = profile.distance;
    return into;
  }
  let index = segments.length - 1;
  while (index > 0 && time < (segments[index] as Segment).start) index--;
  const segment = segments[index] as Segment;
  const t = time - segment.start;
  into.acceleration = segment.acceleration + segment.jerk * t;
  into.speed = segment.speed + (segment.acceleration + 0.5 * segment.jerk * t) * t;
  into.position = segment.position + (segment.speed + (0.5 * segment.acceleration + (segment.jerk * t) / 6) * t) * t;
  return into;
}

/** Joins stretches of constant jerk, each given by its duration, jerk and starting acceleration, into a move. */
export function profileOf(
  stretches: readonly { readonly duration: number; readonly acceleration: number; readonly jerk: number }[],
  distance: number,
): MoveProfile {
  const segments: Segment[] = [];
  let [start, position, speed, peakSpeed, peakAcceleration] = [0, 0, 0, 0, 0];
  for (const { duration, acceleration, jerk } of stretches) {
    if (duration <= 0) continue;
    segments.push({ start, duration, position, speed, acceleration, jerk });
    position += (speed + (0.5 * acceleration + (jerk * duration) / 6) * duration) * duration;
    speed += (acceleration + 0.5 * jerk * duration) * duration;
    peakSpeed = Math.max(peakSpeed, Math.abs(speed));
    peakAcceleration = Math.max(peakAcceleration, Math.abs(acceleration), Math.abs(acceleration + jerk * duration));
    start += duration;
  }
  return { segments, distance, duration: start, peakSpeed, peakAcceleration };
}
