import type { MoveProfile } from '../motion/index.ts';
import type { Exact } from '../quantity/index.ts';
import type { Outcome } from '../sheet/index.ts';
import type { GearLimits } from './bestFractions.ts';
import type { Stage } from './stages/stage.ts';

/** Linear in mm, rotary in degrees or revolutions, a dosing pump in mL. */
export type MotionKind = 'linear' | 'rotary' | 'dosing';
export type AxisUnit = 'mm' | 'deg' | 'rev' | 'mL';

/** Everything the sheet of a pulse-commanded axis is worked out from. Lengths in the unit of the axis. */
export interface AxisInput {
  readonly motionKind: MotionKind;
  readonly axisUnit: AxisUnit;
  /** A rotary axis that may turn on and on one way. */
  readonly endless: boolean;
  readonly travel: Outcome<Exact>;
  /** mL or degrees per turn of the last shaft where no stage gives travel. */
  readonly outputPerTurn: Outcome<Exact>;
  readonly stages: readonly Stage[];

  /** Encoder lines, or 2^bits. */
  readonly encoderCycles: Outcome<Exact>;
  /** 4 after quadrature, 1 for an encoder known by its bits. */
  readonly countsPerCycle: Outcome<Exact>;
  readonly gearNumerator: Outcome<Exact>;
  readonly gearDenominator: Outcome<Exact>;
  readonly gearLimits: Outcome<GearLimits>;

  /** pulses/s the controller can send; pulses/s the drive's input takes with the electrical form in use. */
  readonly controllerPulseRate: Outcome<number>;
  readonly driveInputRate: Outcome<number>;
  /** rpm */
  readonly motorTopSpeed: Outcome<number>;
  /** Bits of the drive's signed position counter. */
  readonly counterBits: Outcome<number>;

  readonly wantedResolution: Outcome<Exact>;
  /** axis units/s */
  readonly wantedSpeed: Outcome<number>;

  readonly commandInverted: boolean;
  /** Plus counts turn the shaft clockwise, seen from the shaft side. */
  readonly plusIsClockwise: boolean;

  /** kg, moved in a straight line; 0 for a rotary load. */
  readonly movedMass: Outcome<number>;
  /** kg·m² on the last shaft; 0 for a linear load. */
  readonly loadInertia: Outcome<number>;
  /** N along the travel, or N·m at the last shaft. */
  readonly frictionLoad: Outcome<number>;
  /** Degrees of the travel from level; 90 is straight up. */
  readonly incline: Outcome<number>;
  /** kg·m² */
  readonly rotorInertia: Outcome<number>;
  /** N·m */
  readonly ratedTorque: Outcome<number>;
  readonly peakTorque: Outcome<number>;

  readonly testMove: Outcome<MoveProfile>;
  /** s at rest after each move */
  readonly dwell: Outcome<number>;
}
