import { profileOf, type MoveProfile } from './moveProfile.ts';

/** Limits of a move; all positive. Speeds in axis units/s, acceleration in /s², jerk in /s³. */
export interface MoveLimits {
  readonly speed: number;
  readonly acceleration: number;
  /** The same as the acceleration where it is not given; a profile with jerk is symmetric. */
  readonly deceleration?: number | undefined;
  /** Absent: trapezoidal. Present: S-curve. */
  readonly jerk?: number | undefined;
}

/**
 * The fastest rest-to-rest move within the limits; a short one never reaches the speed, or even the acceleration.
 * Formulas: the symmetric seven-segment profile of Biagiotti and Melchiorri, Trajectory Planning for Automatic
 * Machines and Robots, 3.4.
 * @throws RangeError when a limit is not a positive number, or the distance is not finite.
 */
export function planMove(distance: number, limits: MoveLimits): MoveProfile {
  const { speed, acceleration, deceleration = acceleration, jerk } = limits;
  for (const [name, value] of Object.entries({
    speed,
    acceleration,
    deceleration,
    ...(jerk === undefined ? {} : { jerk }),
  })) {
    if (!(value > 0 && Number.isFinite(value))) throw new RangeError(`The ${name} of a move must be more than 0.`);
  }
  if (!Number.isFinite(distance)) throw new RangeError('The distance of a move must be a number.');
  const length = Math.abs(distance);
  const sign = Math.sign(distance);
  if (length === 0) return profileOf([], 0);
  return jerk === undefined
    ? trapezoid(length, sign, limits, distance)
    : sCurve(length, sign, speed, acceleration, jerk, distance);
}

/** Peak speed of a triangle: v² = 2·s·a·d/(a + d). */
function trapezoid(length: number, sign: number, limits: MoveLimits, distance: number): MoveProfile {
  const { speed, acceleration, deceleration = acceleration } = limits;
  const peak = Math.min(speed, Math.sqrt((2 * length * acceleration * deceleration) / (acceleration + deceleration)));
  const [rise, fall] = [peak / acceleration, peak / deceleration];
  const cruise = Math.max(0, length / peak - (rise + fall) / 2);
  return profileOf(
    [
      { duration: rise, acceleration: sign * acceleration, jerk: 0 },
      { duration: cruise, acceleration: 0, jerk: 0 },
      { duration: fall, acceleration: -sign * deceleration, jerk: 0 },
    ],
    distance,
  );
}

function sCurve(
  length: number,
  sign: number,
  speed: number,
  acceleration: number,
  jerk: number,
  distance: number,
): MoveProfile {
  // Tj: time of one jerk stretch; Ta: whole time of speeding up.
  let [Tj, Ta] =
    speed * jerk >= acceleration ** 2
      ? [acceleration / jerk, speed / acceleration + acceleration / jerk]
      : [Math.sqrt(speed / jerk), 2 * Math.sqrt(speed / jerk)];
  let cruise = length / speed - Ta;
  if (cruise < 0) {
    cruise = 0;
    if (length >= (2 * acceleration ** 3) / jerk ** 2) {
      Tj = acceleration / jerk;
      Ta = Tj / 2 + Math.sqrt(Tj ** 2 / 4 + length / acceleration);
    } else {
      Tj = Math.cbrt(length / (2 * jerk));
      Ta = 2 * Tj;
    }
  }
  const j = sign * jerk;
  const a = j * Tj;
  const hold = Math.max(0, Ta - 2 * Tj);
  return profileOf(
    [
      { duration: Tj, acceleration: 0, jerk: j },
      { duration: hold, acceleration: a, jerk: 0 },
      { duration: Tj, acceleration: a, jerk: -j },
      { duration: cruise, acceleration: 0, jerk: 0 },
      { duration: Tj, acceleration: 0, jerk: -j },
      { duration: hold, acceleration: -a, jerk: 0 },
      { duration: Tj, acceleration: -a, jerk: j },
    ],
    distance,
  );
}
