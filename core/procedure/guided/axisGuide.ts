import type { BrakeDriver } from '../../chain/index.ts';
import { motorTorque, type DriveTrain } from '../../motion/index.ts';

/** What guided steps work by at an axis, in axis units and s; null: it is not known. */
export interface AxisGuide {
  readonly unit: string;
  /** Axis units of one motor turn, and radians of one axis unit; of a linear motor 1 mm stands for the turn, a metre for the radian. */
  readonly unitsPerTurn: number;
  readonly radiansPerUnit: number;
  readonly isLinearMotor: boolean;
  /** N·m at the motor; N of a linear one. */
  readonly train: DriveTrain | null;
  readonly ratedTorque: number | null;
  readonly peakTorque: number | null;
  /** % of rated torque */
  readonly plannedTorqueLimit: number | null;
  /** null: unknown, or endless */
  readonly travel: number | null;
  readonly isEndless: boolean;
  /** Two motors move it. */
  readonly isPair: boolean;
  readonly positionGain: number | null;
  /** % */
  readonly velocityFeedforward: number | null;
  readonly followingErrorWindow: number | null;
  readonly isSuspended: boolean;
  readonly brake: {
    readonly drivenBy: BrakeDriver;
    readonly torque: number | null;
    readonly releaseDelay: number | null;
    readonly engageDelay: number | null;
  };
  /** What closes its position loop. */
  readonly loopIn: 'drive' | 'controller' | 'none';
  readonly commandedBy: 'pulses' | 'signal' | 'inputs';
  readonly hasTorqueOff: boolean;
  readonly jogAcceleration: number;
  readonly quickStopDeceleration: number;
  /** null: nothing limits a jog */
  readonly jogLimit: number | null;
  readonly highestSpeed: number | null;
  readonly homing: {
    readonly by: 'drive' | 'controller';
    readonly positionAtHome: number;
    /** What the position reads at rest after homing, as predicted; null: it cannot be. */
    readonly restReads: number | null;
    readonly minusSoftLimit: number | null;
    readonly plusSoftLimit: number | null;
    /** Its encoder keeps the position without power. */
    readonly isAbsolute: boolean;
    readonly pair: { readonly skewLimit: number | null; readonly squaringOffset: number | null } | null;
  };
}

/** % of rated torque that a steady move, or holding the load, takes at most; undefined: not known. */
export function neededTorque({ train, ratedTorque }: Pick<AxisGuide, 'train' | 'ratedTorque'>): number | undefined {
  if (!train || !ratedTorque) return undefined;
  const most = Math.max(
    ...([1, -1] as const).map((sense) => Math.abs(motorTorque(train, 0, sense))),
    Math.abs(train.gravity),
  );
  return (100 * most) / ratedTorque;
}

export const hasBrake = ({ brake }: AxisGuide): boolean =>
  brake.drivenBy === 'drive' || brake.drivenBy === 'controller';

/** Axis units that a hand at the coupling would notice: backlash and twist aside, 1° of the motor, of a linear motor 0.05 mm. */
export const noticeable = ({ unitsPerTurn, isLinearMotor }: AxisGuide): number =>
  isLinearMotor ? 0.05 : unitsPerTurn / 360;
