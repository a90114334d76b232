import type { DeviceState, DriveInput, DriveOutput } from '../../drive/index.ts';

/** One look at a drive while a step is under way; what its map does not have is absent. */
export interface Look {
  /** ms, steady clock */
  readonly at: number;
  readonly state: DeviceState | undefined;
  /** Object 0x603F; 0: none. */
  readonly errorCode: number;
  /** Axis units by the feedback, axis units/s. */
  readonly position: number | undefined;
  readonly speed: number | undefined;
  /** % of rated torque, positive where it pushes towards plus. */
  readonly torque: number | undefined;
  readonly active: readonly DriveInput[];
  /** Outputs that are on. */
  readonly outputs: readonly DriveOutput[];
  /** The drive says that its axis is homed. */
  readonly isHomed?: boolean;
  /** Of a spindle: Hz of its output, A, rpm of the tool. */
  readonly hertz?: number | undefined;
  readonly current?: number | undefined;
  readonly toolSpeed?: number | undefined;
  /** What the window holds pressed: a jog in this direction. */
  readonly pressed: 1 | -1 | 0;
}

/** What a stretch of looks shows of the motion. */
export interface MotionFigures {
  /** Axis units: from the first look to the last, and the farthest to each side of the first. */
  readonly moved: number;
  readonly farthestPlus: number;
  readonly farthestMinus: number;
  /** axis units/s and %, the greatest amounts */
  readonly peakSpeed: number;
  readonly peakTorque: number;
}

/** @returns undefined where the drive tells no position */
export function figuresOf(looks: readonly Look[]): MotionFigures | undefined {
  const positions = looks.flatMap(({ position }) => (position === undefined ? [] : [position]));
  const [first, last] = [positions[0], positions.at(-1)];
  if (first === undefined || last === undefined) return undefined;
  const most = (values: readonly (number | undefined)[]) =>
    values.reduce<number>((peak, value) => Math.max(peak, Math.abs(value ?? 0)), 0);
  return {
    moved: last - first,
    farthestPlus: Math.max(...positions) - first,
    farthestMinus: first - Math.min(...positions),
    peakSpeed: most(looks.map(({ speed }) => speed)),
    peakTorque: most(looks.map(({ torque }) => torque)),
  };
}

/** Looks while the motor was on. */
export const powered = (looks: readonly Look[]): readonly Look[] =>
  looks.filter(({ state }) => state === 'operation enabled' || state === 'quick stop active');

/** The mean torque in % at a steady speed in a direction; undefined: it was not reached for long enough. */
export function steadyTorque(looks: readonly Look[], speed: number, direction: 1 | -1): number | undefined {
  const steady = looks.filter(
    (look) => look.torque !== undefined && Math.abs(direction * (look.speed ?? 0) - speed) < 0.15 * speed,
  );
  if (steady.length < 4) return undefined;
  return steady.reduce((sum, { torque = 0 }) => sum + torque, 0) / steady.length;
}

/** The first fault seen; undefined: none. */
export const faultSeen = (looks: readonly Look[]): number | undefined =>
  looks.find(({ state }) => state === 'fault' || state === 'fault reaction active')?.errorCode;

/** Appends a look; a long watch keeps fewer and fewer of its older looks. */
export const withLook = (looks: readonly Look[], look: Look): readonly Look[] =>
  looks.length < most ? [...looks, look] : [...looks.filter((_, k) => k % 2 === 0), look];
const most = 2400;
