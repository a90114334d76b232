import { axisWords, signalUnitOf, type HostLoopInput, type ScaledCommand } from '@kavrid/core/chain';
import { all, known, map, valueOf } from '@kavrid/core/sheet';
import { analogWires, rangeOf } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import type { ReadNumber, ReadText } from '../toCore/fieldReader.ts';
import { exactNumber, number, word } from '../toCore/plannedSetting.ts';
import { newLoopGains } from '../upgrades.ts';
import { invertedBefore, type CommandDocumentOf, type CommandFace } from './commandFace.ts';
import { isFalling, newScale, offsetPlan, readScale, scaledController, sizeOf, stepsOfBits } from './scaled.ts';

type Analog = CommandDocumentOf<'analog'>;

/** A position loop in the controller, with nothing known of it yet. */
export const newLoop = (): NonNullable<Analog['loop']> => ({
  gain: 20,
  ...newLoopGains,
  period: 0.001,
  outputPulses: '',
  outputRate: null,
  inputRate: null,
  feedbackInverted: false,
  errorLimit: null,
  reactionTime: 0.02,
  deceleration: null,
});

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
    integralGain: loop.integralGain ?? 0,
    velocityFeedforward: (loop.velocityFeedforward ?? 0) / 100,
    period: number(path('period'), 'the period of the controller’s loop', loop.period),
    outputPulses: text(path('outputPulses'), 'the pulses of the encoder output', loop.outputPulses, 'outputPulses'),
    outputRate: number(path('outputRate'), 'the rate of the encoder output', loop.outputRate),
    inputRate: number(path('inputRate'), 'the rate of the encoder input', loop.inputRate),
    feedbackInverted: loop.feedbackInverted,
    errorLimit: number(path('errorLimit'), 'the controller’s error limit', loop.errorLimit),
    reactionTime: number(path('reactionTime'), 'the reaction time', loop.reactionTime),
    deceleration: number(path('deceleration'), 'the deceleration on error', loop.deceleration),
  };
}

/** A voltage, a current, or a potentiometer. */
export const analogCommand: CommandFace<Analog> = {
  make: (before) => ({
    kind: 'analog',
    ...newScale(invertedBefore(before), '0 V', '10 V'),
    meaning: 'speed',
    range: '±10 V',
    gainForm: 'value at full signal',
    controllerBits: null,
    driveInput: 'converted',
    driveBits: null,
    deadband: 0,
    filter: 0,
    potentiometer: {
      resistance: null,
      deadEnd: 3,
      referenceVoltage: 10,
      referenceCurrent: null,
      inputResistance: null,
    },
    loop: null,
    outputs: [],
  }),
  read: (command, { motor }, text, number) => readAnalog(command, motor.form, text, number),
  driveSettings: (command, { input, results }) => {
    const unit = signalUnitOf(input.command);
    const value = axisWords('{value}', input);
    return {
      // It stays off until it has been switched on deliberately.
      commandSource: command.switchedOn ? word(`analog ${command.meaning}`) : undefined,
      analogRange: word(command.range),
      ...(command.gainForm === 'value at full signal'
        ? { signalFullValue: exactNumber(sizeOf(results.valueAtFullSignal), value) }
        : { signalGain: exactNumber(sizeOf(results.signalGain), `${value}/${unit}`) }),
      signalOffset: offsetPlan(results, unit),
      signalInverted: word(isFalling(results) ? 'yes' : 'no'),
      signalDeadband: number(command.deadband, unit),
      signalFilter: number(command.filter, 's'),
      signalLossTrips: word(command.faultDetected ? 'yes' : 'no'),
      encoderOutputPulses: command.loop ? exactNumber(valueOf(results.outputPulses), 'pulses') : undefined,
    };
  },
  controllerSettings: scaledController,
  fromLibrary: (command, { controller, drive }) => {
    const { potentiometer: pot, loop } = command;
    const input = drive?.signalInput;
    return {
      ...command,
      controllerBits: controller?.analogBits ?? command.controllerBits,
      driveBits: input?.analogBits ?? command.driveBits,
      potentiometer: {
        ...pot,
        inputResistance: input?.inputResistance ?? pot.inputResistance,
        referenceVoltage: input?.referenceVoltage ?? pot.referenceVoltage,
        referenceCurrent: input?.referenceCurrent ?? pot.referenceCurrent,
      },
      loop: loop && {
        ...loop,
        inputRate: controller?.encoderInputRate ?? loop.inputRate,
        outputRate: input?.encoderOutputRate ?? loop.outputRate,
      },
    };
  },
  wires: ({ meaning, range, faultDetected }) => analogWires(meaning, range, faultDetected),
  form: ({ meaning }) => `analog ${meaning}`,
};
