import type { CommandInput, HostLoopInput, ScaledCommand } from '@kavrid/core/chain';
import { toNumber, toRational, exactRatio, type Exact } from '@kavrid/core/quantity';
import { all, known, map, type Outcome } from '@kavrid/core/sheet';
import { dutyRange, rangeOf, type ChoiceInputs, type SignalRange } from '@kavrid/core/signal';
import type { ChoiceCommandDocument, ScaledCommandDocument } from '../commandDocument.ts';
import type { AxisDocument } from '../documents.ts';
import type { RuleName } from '../rules.ts';
import type { ReadNumber, ReadText } from './fieldReader.ts';

type Analog = Extract<ScaledCommandDocument, { kind: 'analog' }>;
type PulseWidth = Extract<ScaledCommandDocument, { kind: 'pwm' }>;

/** What tells an axis its moves. */
export function readCommand(axis: AxisDocument, text: ReadText, number: ReadNumber): CommandInput {
  const { command } = axis;
  switch (command.kind) {
    case 'stepDirection':
    case 'clockwisePulses':
    case 'quadrature':
    case 'untimedPulses':
      return { kind: 'pulses' };
    case 'analog':
      return readAnalog(command, axis.motor.form, text, number);
    case 'pwm':
      return readPulseWidth(command, axis.motor.form, text, number);
    case 'choice':
      return { kind: 'choice', choice: readChoice(command), storedMoves: command.storedMoves ?? undefined };
  }
}

/** The rule for a signal of a command, and for the value that it means. */
export const signalRuleOf = (command: ScaledCommandDocument): RuleName =>
  command.kind === 'pwm' ? 'duty' : command.range.endsWith('mA') ? 'analogMilliamps' : 'analogVolts';

export function valueRuleOf({ meaning }: ScaledCommandDocument, motorForm: AxisDocument['motor']['form']): RuleName {
  switch (meaning) {
    case 'speed':
      return motorForm === 'linear' ? 'scaleLinearSpeed' : 'scaleSpeed';
    case 'torque':
      return 'scaleTorque';
    case 'position':
      return 'position';
  }
}

type Scale = Pick<
  ScaledCommand,
  | 'range'
  | 'fromSignal'
  | 'fromValue'
  | 'toSignal'
  | 'toValue'
  | 'faultDetected'
  | 'switchedOn'
  | 'standing'
  | 'creep'
  | 'trimStep'
>;

function readScale(
  command: ScaledCommandDocument,
  range: SignalRange,
  motorForm: AxisDocument['motor']['form'],
  text: ReadText,
  number: ReadNumber,
): Scale {
  // A point may be typed in radians. Later formulas add and subtract it, so π is replaced by its digits here.
  const read = (path: string, label: string, value: string, rule: RuleName): Outcome<Exact> =>
    map(text(path, label, value, rule), (each) => exactRatio(toRational(each)));
  const [signal, value] = [signalRuleOf(command), valueRuleOf(command, motorForm)];
  return {
    range,
    fromSignal: read('/command/from/signal', 'the first signal of the scale', command.from.signal, signal),
    fromValue: read('/command/from/value', 'what the first signal means', command.from.value, value),
    toSignal: read('/command/to/signal', 'the second signal of the scale', command.to.signal, signal),
    toValue: read('/command/to/value', 'what the second signal means', command.to.value, value),
    faultDetected: command.faultDetected,
    switchedOn: command.switchedOn,
    standing: read('/command/standing', 'the signal at enable', command.standing, signal),
    creep: number('/command/creep', 'the creep at zero command', command.creep),
    trimStep: number('/command/trimStep', 'a step of the drive’s trim', command.trimStep),
  };
}

const stepsOfBits = (bits: Outcome<number>): Outcome<number> => map(bits, (each) => 2 ** each);

function readAnalog(
  command: Analog,
  motorForm: AxisDocument['motor']['form'],
  text: ReadText,
  number: ReadNumber,
): ScaledCommand {
  const pot = command.potentiometer;
  const range = rangeOf(command.range, pot.referenceVoltage ?? 10);
  const isPot = command.range === 'potentiometer';
  return {
    kind: 'analog',
    meaning: command.meaning,
    ...readScale(command, range, motorForm, text, number),
    // A potentiometer turns without steps: only the drive's converter counts.
    controllerSteps: isPot
      ? known(Infinity)
      : stepsOfBits(number('/command/controllerBits', 'the bits of the controller’s output', command.controllerBits)),
    driveSteps:
      command.driveInput === 'purely analog'
        ? known(Infinity)
        : stepsOfBits(number('/command/driveBits', 'the bits of the drive’s input', command.driveBits)),
    deadband: command.deadband ?? 0,
    filter: command.filter ?? 0,
    potentiometer: isPot
      ? map(
          all<[number, number, number, number]>(
            number('/command/potentiometer/resistance', 'the potentiometer’s resistance', pot.resistance),
            number('/command/potentiometer/referenceVoltage', 'the reference voltage', pot.referenceVoltage),
            number('/command/potentiometer/referenceCurrent', 'the reference’s current', pot.referenceCurrent),
            number('/command/potentiometer/inputResistance', 'the input’s resistance', pot.inputResistance),
          ),
          ([resistance, referenceVoltage, referenceCurrent, inputResistance]) => ({
            resistance,
            referenceVoltage,
            referenceCurrent,
            inputResistance,
            deadEnd: (pot.deadEnd ?? 0) / 100,
          }),
        )
      : undefined,
    pulses: undefined,
    hostLoop: command.loop && command.meaning === 'speed' ? readLoop(command.loop, text, number) : undefined,
  };
}

function readLoop(loop: NonNullable<Analog['loop']>, text: ReadText, number: ReadNumber): HostLoopInput {
  const path = (field: string) => `/command/loop/${field}`;
  return {
    gain: number(path('gain'), 'the gain of the controller’s loop', loop.gain),
    period: number(path('period'), 'the period of the controller’s loop', loop.period),
    outputPulses: text(path('outputPulses'), 'the pulses of the encoder output', loop.outputPulses, 'outputPulses'),
    outputRate: number(path('outputRate'), 'the rate of the encoder output', loop.outputRate),
    inputRate: number(path('inputRate'), 'the rate of the encoder input', loop.inputRate),
    feedbackInverted: loop.feedbackInverted,
    errorLimit: number(path('errorLimit'), 'the controller’s error limit', loop.errorLimit),
    reactionTime: number(path('reactionTime'), 'the time until the axis slows down', loop.reactionTime),
    deceleration: number(path('deceleration'), 'how fast it slows down', loop.deceleration),
  };
}

function readPulseWidth(
  command: PulseWidth,
  motorForm: AxisDocument['motor']['form'],
  text: ReadText,
  number: ReadNumber,
): ScaledCommand {
  const carrier = number('/command/carrier', 'the carrier’s frequency', command.carrier);
  const rawFullScale = text(
    '/command/rawFullScale',
    'the drive’s raw full scale',
    command.rawFullScale,
    'rawFullScale',
  );
  const countsOf = (clock: Outcome<number>) =>
    map(all<[number, number]>(clock, carrier), ([ticks, hertz]) => Math.max(1, Math.floor(ticks / hertz)));
  const captured = command.captureClock === null ? known(Infinity) : countsOf(known(command.captureClock));
  return {
    kind: 'pwm',
    meaning: command.meaning,
    ...readScale(command, dutyRange, motorForm, text, number),
    controllerSteps:
      command.generatorClock === null
        ? stepsOfBits(number('/command/generatorBits', 'the bits of the generator', command.generatorBits))
        : countsOf(known(command.generatorClock)),
    // The drive sees no more than its clock counts in a period, and stores no more than its full scale.
    driveSteps: map(all<[number, Exact]>(captured, rawFullScale), ([ticks, full]) => Math.min(ticks, toNumber(full))),
    deadband: 0,
    filter: 0,
    potentiometer: undefined,
    pulses: {
      carrier,
      rawFullScale,
      numeratorMax: text('/command/numeratorMax', 'the largest numerator', command.numeratorMax, 'gearRegister'),
      denominatorMax: text(
        '/command/denominatorMax',
        'the largest denominator',
        command.denominatorMax,
        'gearRegister',
      ),
      directions: command.directions,
      sharedWith: command.sharedWith,
    },
    hostLoop: undefined,
  };
}

const given = <T>(value: T | null): T | undefined => value ?? undefined;

/** Stored moves and how they are picked. */
export function readChoice(command: ChoiceCommandDocument): ChoiceInputs {
  const { inputs, edges, homing, patternAtEnable, nothing } = command;
  return {
    inputs,
    edges,
    homing,
    patternAtEnable,
    skew: command.skew ?? 0,
    minimumInputDuration: command.minimumInputDuration ?? 0,
    startDelay: command.startDelay ?? 0,
    nothing,
    torqueLimits: command.torqueLimits.flatMap(({ pattern, limit }) => (limit === null ? [] : [{ pattern, limit }])),
    moves: command.moves.map(({ pattern, kind, name, ...rest }) => ({
      pattern,
      kind,
      name,
      target: given(rest.target),
      fence: given(rest.fence),
      speed: given(rest.speed),
      acceleration: given(rest.acceleration),
      deceleration: given(rest.deceleration),
      torqueLimit: given(rest.torqueLimit),
      window: given(rest.window),
      scale:
        kind === 'follow analog'
          ? {
              signalFrom: given(rest.signalFrom),
              valueFrom: given(rest.valueFrom),
              signalTo: given(rest.signalTo),
              valueTo: given(rest.valueTo),
            }
          : undefined,
      armingInput: rest.armingInput,
    })),
  };
}
