import type { DriveTrain, MoveProfile, StageLoss } from '../motion/index.ts';
import type { Exact } from '../quantity/index.ts';
import type { TwoPointScale, UntimedTrain } from '../signal/index.ts';
import type { MotionKind } from './axisForm.ts';
import type { GearLimits } from './bestFractions.ts';
import type { RawScale } from './rawScale.ts';
import type { SpeedLimit } from './speedLimit.ts';

/** The sheets there are: by pulses through a gear, by a scaled signal, or by inputs that pick moves. */
export type AxisSheetKind = 'pulses' | 'scaled' | 'choice';

/** From the encoder to the steps per unit, and what the gear makes of the resolution wanted. */
interface ScalingValues {
  readonly encoderCycles: Exact;
  readonly countsPerCycle: Exact;
  /** Of a linear motor: per mm. */
  readonly countsPerRevolution: Exact;
  readonly gearNumerator: Exact;
  readonly gearDenominator: Exact;
  readonly gearLimits: GearLimits;
  readonly stageRatios: readonly Exact[];
  readonly transmissionRatio: Exact;
  readonly travelFactors: readonly Exact[];
  readonly travelPerTurn: Exact;
  readonly pulsesPerRevolution: Exact;
  readonly stepsPerUnit: Exact;
  readonly commandResolution: Exact;
  readonly feedbackResolution: Exact;
  readonly countsPerPulse: Exact;
  readonly wantedResolution: Exact;
  readonly wantedRatio: Exact;
  readonly ratioError: number;
  readonly travel: Exact;
  readonly driftOverTravel: number;
  readonly driftPerMetre: number;
  readonly driftPerThousandTurns: number;
}

/** How fast the axis can go, and what holds it back. */
export interface SpeedValues {
  readonly controllerPulseRate: number;
  readonly driveInputRate: number;
  /** pulses/s; infinite where the drive gives no least width */
  readonly pulseWidthRate: number;
  readonly highestPulseRate: number;
  readonly motorTopSpeed: number;
  /** 60 for a motor speed in rpm, 1 for one in mm/s. */
  readonly motorSpeedScale: number;
  /** Of the stages and of the supply; those that are known. */
  readonly mechanicsLimits: readonly SpeedLimit[];
  /** rpm that the supply's voltage gives; infinite where nothing is given */
  readonly supplyMotorSpeed: number;
  readonly speedAtControllerRate: number;
  readonly speedAtDriveRate: number;
  readonly speedAtMotor: number;
  /** What the command itself lets through: pulses, or the end of a signal's range. */
  readonly commandLimits: readonly SpeedLimit[];
  readonly furtherLimits: readonly SpeedLimit[];
  readonly highestSpeed: number;
  readonly bindingLimits: readonly string[];
  readonly wantedSpeed: number;
  readonly pulseRateAtWantedSpeed: number;
  readonly motorSpeedAtWantedSpeed: number;
  readonly counterBits: number;
  readonly turnsToWrap: number;
  readonly timeToWrap: number;
}

/** What the motor feels of the load. Of a linear motor a radian is a metre, a torque a force and an inertia a mass. */
interface LoadValues {
  readonly motionKind: MotionKind;
  /** 2π; 0.001 m a mm for a linear motor */
  readonly motorRadiansPerTurn: number;
  readonly movedMass: number;
  readonly loadInertia: number;
  readonly frictionLoad: number;
  readonly incline: number;
  readonly efficiency: number;
  readonly stageInertia: number;
  readonly rotorInertia: number;
  readonly ratedTorque: number;
  readonly peakTorque: number;
  readonly metresPerRadian: number;
  readonly reflectedInertia: number;
  readonly inertiaRatio: number;
  /** What each stage loses, from the load to the motor. */
  readonly stageLosses: readonly StageLoss[];
  readonly frictionTorque: number;
  readonly gravityTorque: number;
  readonly driveTrain: DriveTrain;
  readonly runningTorque: number;
  readonly testMove: MoveProfile;
  readonly dwell: number;
  readonly testMovePeakTorque: number;
  readonly testMoveRmsTorque: number;
  readonly testMoveRmsSpeed: number;
}

/** What gives in the mechanics: backlash, belts, screws that whirl, two sides that are not quite square. */
interface MechanicsValues {
  /** axis units, the full difference at the load */
  readonly backlash: number;
  readonly backlashCounts: number;
  /** mm/N of a belt at its longest; 0 without one */
  readonly beltCompliance: number;
  readonly testMoveForce: number;
  readonly beltStretch: number;
  /** rpm at which a screw whirls */
  readonly criticalSpeed: number;
  readonly pairSpacing: number;
  readonly skewLimit: number;
  readonly skewAngle: number;
  readonly skewCounts: number;
}

/** The following-error alarm in plain terms, and the lag it has to let through. */
interface FollowingErrorValues {
  /** axis units */
  readonly followingErrorWindow: number;
  /** 360; 1 mm a mm for a linear motor */
  readonly degreesPerTurn: number;
  readonly followingErrorCounts: number;
  /** degrees of the motor shaft; mm of a linear motor */
  readonly followingErrorAngle: number;
  /** 1/s, % */
  readonly positionGain: number;
  readonly velocityFeedforward: number;
  readonly steadyLag: number;
  /** The lag as a share of the window, %. */
  readonly lagShare: number;
}

/** An untimed pulse train: how long it takes, and how fast it may be sent. */
export interface TrainValues {
  readonly train: UntimedTrain;
  /** The train with the speed that drive, motor and mechanics allow. */
  readonly boundTrain: UntimedTrain;
  readonly trainDistance: number;
  readonly trainTime: number;
  readonly trainProfileTime: number;
  readonly trainMoveTime: number;
  readonly lowestTrainRate: number;
  readonly trainPeakTorque: number;
  readonly trainTorqueReserve: number;
  readonly trainRmsTorque: number;
  readonly earliestNextTrain: number;
}

/** What a low-voltage drive takes from its DC supply, and what it gives back. */
interface SupplyValues {
  readonly supplyVoltage: number;
  /** Motors of the axis that the supply feeds. */
  readonly motorCount: number;
  readonly supplyCapacitance: number;
  readonly otherSupplyCurrent: number;
  readonly windingResistance: number;
  readonly torqueConstant: number;
  readonly voltageConstant: number;
  readonly supplyPeakCurrent: number;
  readonly supplyTotalCurrent: number;
  readonly loweringEnergy: number;
  readonly brakingEnergy: number;
  readonly supplyVoltageAfterBraking: number;
}

/** A command whose size is the value: its scale, its steps, its zero. Signals in V, mA or %. */
export interface ScaledSignalValues {
  readonly fromSignal: Exact;
  readonly fromValue: Exact;
  readonly toSignal: Exact;
  readonly toValue: Exact;
  readonly signalLowest: Exact;
  readonly signalHighest: Exact;
  readonly signalScale: TwoPointScale;
  readonly signalGain: Exact;
  readonly valueAtFullSignal: Exact;
  readonly valueAtLeastSignal: Exact;
  readonly signalAtZero: Exact;
  readonly controllerSteps: number;
  readonly driveSteps: number;
  readonly controllerSignalStep: number;
  readonly driveSignalStep: number;
  readonly valueStep: number;
  readonly coarserEnd: readonly string[];
  readonly commandsSpeed: boolean;
  /** axis units/s for a value of one, where the command is a speed; axis units where it is a position */
  readonly loadPerValue: number;
  readonly loadStep: number;
  readonly deadband: number;
  readonly deadbandValue: number;
  readonly fullCommandSpeed: number;
  readonly signalAtWantedSpeed: number;
  readonly creep: number;
  readonly trimStep: number;
  readonly creepOffset: number;
  readonly creepTrim: number;
  readonly rawFullScale: Exact;
  readonly rawNumeratorMax: Exact;
  readonly rawDenominatorMax: Exact;
  readonly rawValuePerCount: Exact;
  readonly rawScale: RawScale;
  readonly rawNumerator: Exact;
  readonly rawDenominator: Exact;
  readonly rawOffset: Exact;
  readonly carrier: number;
  readonly carrierPeriod: number;
}

/** A position loop in the controller over a speed command, with the encoder fed back to it. */
interface HostLoopValues {
  /** Pulses a motor revolution from the drive’s encoder output. */
  readonly outputPulses: Exact;
  readonly encoderDivider: Exact;
  readonly hostCountsPerUnit: Exact;
  readonly hostResolution: Exact;
  /** pulses/s of one channel, at the wanted speed and at full command */
  readonly encoderRateAtWantedSpeed: number;
  readonly encoderRateAtFullCommand: number;
  /** 1/s, s */
  readonly hostGain: number;
  readonly hostPeriod: number;
  /** axis units of error that one step of the command is worth */
  readonly errorOfOneStep: number;
  readonly hostDamping: number;
  readonly speedBandwidth: number;
  /** s, of the drive's filter on the signal */
  readonly signalFilter: number;
  readonly errorLimit: number;
  readonly reactionTime: number;
  readonly hostDeceleration: number;
  readonly runawaySpeed: number;
  readonly runawayDistance: number;
}

/** Every value of an axis by name. Exact where exactness matters, doubles elsewhere. */
export interface AxisValues
  extends
    ScalingValues,
    SpeedValues,
    LoadValues,
    MechanicsValues,
    FollowingErrorValues,
    TrainValues,
    SupplyValues,
    ScaledSignalValues,
    HostLoopValues {
  /** Which of the sheets it was worked out with. */
  readonly sheet: AxisSheetKind;
}
