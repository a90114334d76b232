import type { Exact } from '../quantity/index.ts';
import type { Outcome } from '../sheet/index.ts';
import type { ChoiceInputs, Potentiometer, SignalRange, SignalUnit } from '../signal/index.ts';

/** What a scaled signal commands. */
export type CommandMeaning = 'speed' | 'torque' | 'position';

/** A position loop in the controller, over a speed command to the drive. */
export interface HostLoopInput {
  /** 1/s */
  readonly gain: Outcome<number>;
  /** 1/s², and a share of the demanded speed; 0: none */
  readonly integralGain: number;
  readonly velocityFeedforward: number;
  /** s between two corrections */
  readonly period: Outcome<number>;
  /** Pulses a motor revolution that the drive’s encoder output gives, before quadrature. */
  readonly outputPulses: Outcome<Exact>;
  /** pulses/s that the drive’s output gives and the controller’s input takes */
  readonly outputRate: Outcome<number>;
  readonly inputRate: Outcome<number>;
  /** The feedback counts against the command. */
  readonly feedbackInverted: boolean;
  /** axis units; unknown where the controller watches no error */
  readonly errorLimit: Outcome<number>;
  /** s from the trip until the axis slows down; axis units/s² from then on */
  readonly reactionTime: Outcome<number>;
  readonly deceleration: Outcome<number>;
}

/** A command whose size is the value: volts, milliamps or a duty cycle. */
export interface ScaledCommand {
  readonly kind: 'analog' | 'pwm';
  readonly meaning: CommandMeaning;
  readonly range: SignalRange;
  /** The two points; values in rpm (mm/s), % of rated torque or axis units. */
  readonly fromSignal: Outcome<Exact>;
  readonly fromValue: Outcome<Exact>;
  readonly toSignal: Outcome<Exact>;
  readonly toValue: Outcome<Exact>;
  /** Steps that each end makes of its whole range. */
  readonly controllerSteps: Outcome<number>;
  readonly driveSteps: Outcome<number>;
  /** In the unit of the signal, either side of zero. */
  readonly deadband: number;
  /** s, of a first-order filter in the drive */
  readonly filter: number;
  /** A live zero below which the drive trips, or a pulse train whose absence it sees. */
  readonly faultDetected: boolean;
  /** Nobody listens to it until it has been switched on deliberately. */
  readonly switchedOn: boolean;
  /** The signal that stands while the drive is enabled. */
  readonly standing: Outcome<Exact>;
  /** rpm (mm/s) seen at zero command; signal units a step of the drive’s trim */
  readonly creep: Outcome<number>;
  readonly trimStep: Outcome<number>;
  readonly potentiometer: Outcome<Potentiometer> | undefined;
  /** Only with pulses of a fixed frequency. */
  readonly pulses: PulseWidthInput | undefined;
  /** Only for a speed that a loop in the controller commands. */
  readonly hostLoop: HostLoopInput | undefined;
}

/** What is particular to a duty cycle. */
export interface PulseWidthInput {
  /** Hz */
  readonly carrier: Outcome<number>;
  /** The number the drive has at 100 %, as its manual gives it: 1023, 1024, 32 767. */
  readonly rawFullScale: Outcome<Exact>;
  readonly numeratorMax: Outcome<Exact>;
  readonly denominatorMax: Outcome<Exact>;
  readonly directions: 'one' | 'both';
  /** What else the same terminal is set to be. */
  readonly sharedWith: string;
}

/** Inputs that pick moves which the drive keeps. */
export interface ChoiceCommand {
  readonly kind: 'choice';
  readonly choice: ChoiceInputs;
  /** How many moves the drive keeps. */
  readonly storedMoves: number | undefined;
}

export interface PulsesCommand {
  readonly kind: 'pulses';
}

/** Every kind of command. */
export interface CommandByKind {
  readonly pulses: PulsesCommand;
  readonly analog: ScaledCommand;
  readonly pwm: ScaledCommand;
  readonly choice: ChoiceCommand;
}
export type CommandKind = keyof CommandByKind;

/** The command of an axis: one of the kinds above. */
export type CommandInput = CommandByKind[CommandKind];

/** The words of a command’s signal and value, for labels and units. */
export const signalUnitOf = (command: CommandInput): SignalUnit | '' => ('range' in command ? command.range.unit : '');
