/** What one stage loses and what it adds, brought to the motor shaft. */
export interface StageLoss {
  /** Power out over power in while power flows to the load; above 0 up to 1. */
  readonly efficiency: number;
  /** The same while power flows back; at or below 0 the stage locks itself and the load cannot drive it. */
  readonly backDriveEfficiency: number;
  /** kg·m², or kg of a linear motor, at the shaft that drives the stage */
  readonly inertia: number;
}

/**
 * All that a motor drives, brought to its shaft without losses: torques in N·m and inertias in kg·m², or forces in N and
 * masses in kg of a linear motor. Losses come in stage by stage.
 */
export interface DriveTrain {
  /** On the motor’s own shaft: the rotor, or all that moves where nothing is lost. */
  readonly inertia: number;
  /** Behind the stages, without their own; absent: 0. */
  readonly loadInertia?: number;
  /** At the load; opposes motion. */
  readonly friction: number;
  /** Holds the load against gravity; positive when a move towards plus has to lift. */
  readonly gravity: number;
  /** From the load to the motor; absent: nothing is lost. */
  readonly stages?: readonly StageLoss[];
}

/** A sense of motion: towards plus, or towards minus. */
export type Sense = 1 | -1;

/**
 * Torque at the motor for an acceleration while it moves in a sense, walked from the load: at each stage
 * `T_in = T_out / η + J · α` while power flows to the load and `T_out · η_back + J · α` while it flows back (power balance
 * of a gear, Roloff/Matek, Machine Elements; Machinery's Handbook, power screws).
 * @param acceleration rad/s² of the motor, or m/s²
 */
export function motorTorque(train: DriveTrain, acceleration: number, sense: Sense): number {
  return beyondStage(train, Infinity, acceleration, sense) + train.inertia * acceleration;
}

/** Torque at the driving shaft of the last of the first `count` stages, seen from the load. */
function beyondStage(train: DriveTrain, count: number, acceleration: number, sense: Sense): number {
  const { loadInertia = 0, stages = [] } = train;
  let torque = loadInertia * acceleration + train.friction * sense + train.gravity;
  for (const { efficiency, backDriveEfficiency, inertia } of stages.slice(0, count)) {
    torque = torque * (torque * sense >= 0 ? 1 / efficiency : backDriveEfficiency) + inertia * acceleration;
  }
  return torque;
}

/** Accelerations, rising, at which power changes its direction in a stage: between two of them the torque is a straight line. */
export function powerReversals(train: DriveTrain, sense: Sense): readonly number[] {
  const found: number[] = [];
  for (const [count, { efficiency, backDriveEfficiency }] of (train.stages ?? []).entries()) {
    if (efficiency === 1 && backDriveEfficiency === 1) continue;
    const ends = found.toSorted((a, b) => a - b);
    const [first = 0, last = 0] = [ends[0], ends.at(-1)];
    const bounds = [first - stepFrom(first), ...ends, last + stepFrom(last)];
    for (let k = 1; k < bounds.length; k++) {
      const [a, b] = [bounds[k - 1] as number, bounds[k] as number];
      const [atA, atB] = [beyondStage(train, count, a, sense), beyondStage(train, count, b, sense)];
      if (atA === atB) continue;
      const zero = a - (atA * (b - a)) / (atB - atA);
      const isInside = (k === 1 || zero > a) && (k === bounds.length - 1 || zero <= b);
      if (isInside && !found.includes(zero)) found.push(zero);
    }
  }
  return found.sort((a, b) => a - b);
}

/** A step that is large enough to be seen beside a number. */
const stepFrom = (value: number): number => 1 + Math.abs(value);

/** A straight stretch of acceleration over torque: from the torque `from` on, α = (T − offset) / inertia. */
export interface AccelerationStretch {
  readonly from: number;
  readonly offset: number;
  readonly inertia: number;
}

/**
 * The acceleration that a torque at the motor gives, as stretches in order of the torque; the first one begins at −∞.
 * @throws RangeError when the train jams: it locks itself, and the load is so heavy that slowing it down takes no torque away.
 */
export function accelerationStretches(train: DriveTrain, sense: Sense): readonly AccelerationStretch[] {
  const reversals = powerReversals(train, sense);
  const bounds = [-Infinity, ...reversals];
  return bounds.map((from, k) => {
    const [first = 0, start] = [reversals[0], k === 0 ? 0 : from];
    const [low, high] = [k === 0 ? first - stepFrom(first) : from, reversals[k] ?? start + stepFrom(start)];
    const [atLow, atHigh] = [motorTorque(train, low, sense), motorTorque(train, high, sense)];
    const inertia = (atHigh - atLow) / (high - low);
    if (!(inertia > 0))
      throw new RangeError(
        'The mechanics jam: a stage is self-locking, and the load behind it is too heavy to be decelerated through it.',
      );
    return { from: k === 0 ? -Infinity : atLow, offset: atLow - inertia * low, inertia };
  });
}

/** N·m that a steady move takes in its harder sense: friction, and gravity where it lifts or where the stage locks itself. */
export const runningTorque = (train: DriveTrain): number =>
  Math.max(Math.abs(motorTorque(train, 0, 1)), Math.abs(motorTorque(train, 0, -1)));

/** J that come back to the motor when the load stops from a speed in rad/s: the load's own energy less the losses on its way. */
export const returnedKineticEnergy = (train: DriveTrain, speed: number): number =>
  ((train.stages ?? []).reduce(
    (energy, { backDriveEfficiency, inertia }) => energy * Math.max(0, backDriveEfficiency) + inertia,
    train.loadInertia ?? 0,
  ) +
    train.inertia) *
  0.5 *
  speed ** 2;

/** N·m that a lowered load gives back to the motor; 0 where friction or a stage holds it. */
export const loweringTorque = (train: DriveTrain): number =>
  (train.stages ?? []).reduce(
    (torque, { backDriveEfficiency }) => torque * Math.max(0, backDriveEfficiency),
    Math.max(0, Math.abs(train.gravity) - train.friction),
  );
