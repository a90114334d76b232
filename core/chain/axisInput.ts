import type { MoveProfile } from '../motion/index.ts';
import type { Exact } from '../quantity/index.ts';
import type { Outcome } from '../sheet/index.ts';
import type {
  AlarmWiring,
  EnableWiring,
  LimitWiring,
  LineCircuit,
  NeededTiming,
  OutputKind,
  PulseForm,
  SafeTorqueOff,
  SentTiming,
  UntimedTrain,
} from '../signal/index.ts';
import type { GearLimits } from './bestFractions.ts';
import type { AxisUnit, MotionKind, MotorForm } from './axisForm.ts';
import type { CommandInput } from './commandInput.ts';
import type { Stage } from './stages/stage.ts';

/** How pulses travel from the controller to the drive. */
export interface SignalInput {
  /** What the controller sends; what the drive is set to take. */
  readonly form: PulseForm;
  readonly driveForm: PulseForm;
  readonly electrical: 'differential' | 'singleEnded';
  /** The active level of a pulse at each end. */
  readonly controllerActive: 'high' | 'low';
  readonly driveActive: 'high' | 'low';
  readonly sent: SentTiming;
  readonly needed: Outcome<NeededTiming>;
  readonly circuit: LineCircuit;
  /** All that the controller could be set to. */
  readonly outputs: readonly OutputKind[];
  readonly driveTakesDifferential: boolean;
  /** m */
  readonly cableLength: number | undefined;
  readonly shield: 'none' | 'one end' | 'both ends';
  /** The 0 V of both ends are joined. */
  readonly commonReference: boolean;
  /** Ω across a differential line at the drive */
  readonly termination: number | undefined;
}

/** What keeps an axis from harm, as wired. */
export interface ProtectionInput {
  readonly enable: EnableWiring;
  readonly alarm: AlarmWiring;
  readonly limits: LimitWiring;
  readonly safeTorqueOff: SafeTorqueOff;
}

/** A second motor that moves the other side of one linear axis. */
export interface PairInput {
  /** Built in mirrored: its shaft points the other way. */
  readonly mirrored: boolean;
  /** Plus counts turn the second shaft clockwise, seen from its own shaft side. */
  readonly secondIsClockwise: boolean;
  /** mm between the two */
  readonly spacing: Outcome<number>;
  readonly squaring: 'none' | 'two home switches' | 'hard stops';
  /** mm that one side may run ahead of the other */
  readonly skewLimit: Outcome<number>;
  /** A fault of one stops both. */
  readonly commonTrip: boolean;
}

/** The DC supply of a low-voltage drive, alone or shared. */
export interface SupplyInput {
  readonly kind: 'AC' | 'DC';
  /** V that the drive takes */
  readonly minimum: number | undefined;
  readonly maximum: number | undefined;
  /** V, A of the supply */
  readonly voltage: Outcome<number>;
  readonly ratedCurrent: Outcome<number>;
  /** A of the other axes on the same supply, at peak */
  readonly otherCurrent: Outcome<number>;
  /** F across supply and drive */
  readonly capacitance: Outcome<number>;
  /** It takes energy back, or has a brake chopper. */
  readonly takesEnergyBack: boolean;
  readonly reversePolaritySafe: boolean;
  /** V per 1000 rpm between two leads of the motor, Ω between them, A */
  readonly voltageConstant: Outcome<number>;
  readonly windingResistance: Outcome<number>;
  readonly ratedCurrentOfMotor: Outcome<number>;
}

/** One more electronic gear ratio that inputs of the drive switch to. */
export interface GearSet {
  readonly numerator: Outcome<Exact>;
  readonly denominator: Outcome<Exact>;
}

/** The form in which the electronic gear ratio is entered in the drive. */
export type RatioForm = 'numerator and denominator' | 'pulses per revolution' | 'switch table' | 'multiplier';

/** Who switches the holding brake of the motor. */
export const brakeDrivers = ['not settled', 'none', 'drive', 'controller'] as const;
export type BrakeDriver = (typeof brakeDrivers)[number];

/** Everything that the sheet of an axis is computed from. Lengths in the unit of the axis. */
export interface AxisInput {
  readonly motionKind: MotionKind;
  readonly axisUnit: AxisUnit;
  /** An endless rotary axis. */
  readonly endless: boolean;
  readonly travel: Outcome<Exact>;
  readonly stages: readonly Stage[];
  /** What measuring has shown the travel to be, over what the plates say: 1 where nothing has been measured. */
  readonly travelCorrection: Outcome<Exact>;

  /** Source of the commands. The fields below about gear, pulses and lines apply to pulses only. */
  readonly command: CommandInput;

  readonly motorForm: MotorForm;
  /** Encoder lines, or 2^bits, a revolution; counts per mm of a linear motor. */
  readonly encoderCycles: Outcome<Exact>;
  /** 4 after quadrature, 1 for an encoder known by its bits. */
  readonly countsPerCycle: Outcome<Exact>;
  readonly gearNumerator: Outcome<Exact>;
  readonly gearDenominator: Outcome<Exact>;
  readonly gearLimits: Outcome<GearLimits>;
  readonly ratioForm: RatioForm;
  /** The drive's manual writes counts = increments · D / N. */
  readonly ratioInverted: boolean;
  /** Pulses per revolution by position of the switches, where the drive has such. */
  readonly switchTable: readonly { readonly switches: string; readonly pulses: Outcome<Exact> }[];
  readonly gearSets: readonly GearSet[];
  /** How many ratios the drive has in all; inputs choose among them. */
  readonly gearSetsMax: number;
  readonly gearSwitchedInMotion: boolean;

  /** pulses/s the controller can send; pulses/s the drive's input takes with the electrical form in use. */
  readonly controllerPulseRate: Outcome<number>;
  readonly driveInputRate: Outcome<number>;
  /** rpm; mm/s of a linear motor */
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
  /** Degrees of the travel from level; 90 is vertical, plus upwards. */
  readonly incline: Outcome<number>;
  /** kg·m²; the moving part of a linear motor in kg */
  readonly rotorInertia: Outcome<number>;
  /** N·m; N of a linear motor */
  readonly ratedTorque: Outcome<number>;
  readonly peakTorque: Outcome<number>;

  readonly testMove: Outcome<MoveProfile>;
  /** s at rest after each move */
  readonly dwell: Outcome<number>;

  readonly signal: SignalInput;
  /** Only where the command is an untimed pulse train. */
  readonly train: Outcome<UntimedTrain> | undefined;
  readonly protection: ProtectionInput;
  readonly brake: { readonly drivenBy: BrakeDriver; /** N·m at the motor */ readonly torque: Outcome<number> };
  readonly pair: PairInput | undefined;
  readonly supply: SupplyInput;
  /** 1/s, % */
  readonly positionGain: Outcome<number>;
  readonly velocityFeedforward: Outcome<number>;
  /** rad/s */
  readonly speedBandwidth: Outcome<number>;
  /** axis units */
  readonly followingErrorWindow: Outcome<number>;
  readonly minusSoftLimit: number | undefined;
  readonly plusSoftLimit: number | undefined;
}
