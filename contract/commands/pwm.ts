import { axisWords, type ScaledCommand } from '@kavrid/core/chain';
import { toNumber, type Exact } from '@kavrid/core/quantity';
import { all, known, map, valueOf, type Outcome } from '@kavrid/core/sheet';
import { dutyRange, pwmWires } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import type { ReadNumber, ReadText } from '../toCore/fieldReader.ts';
import { exactNumber, word } from '../toCore/plannedSetting.ts';
import { invertedBefore, type CommandDocumentOf, type CommandFace } from './commandFace.ts';
import { newScale, readScale, scaledController, stepsOfBits } from './scaled.ts';

type PulseWidth = CommandDocumentOf<'pwm'>;

function readPulseWidth(
  command: PulseWidth,
  motorForm: AxisDocument['motor']['form'],
  text: ReadText,
  number: ReadNumber,
): ScaledCommand {
  const carrier = number('/command/carrier', 'the PWM frequency', command.carrier);
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

/** A duty cycle. */
export const pwmCommand: CommandFace<PulseWidth> = {
  make: (before) => ({
    kind: 'pwm',
    ...newScale(invertedBefore(before), '0', '100'),
    meaning: 'speed',
    carrier: null,
    generatorBits: null,
    generatorClock: null,
    captureClock: null,
    rawFullScale: '',
    numeratorMax: '65535',
    denominatorMax: '65535',
    directions: 'one',
    sharedWith: '',
  }),
  read: (command, { motor }, text, number) => readPulseWidth(command, motor.form, text, number),
  driveSettings: (command, { input, results }) => ({
    commandSource: command.switchedOn ? word(`PWM ${command.meaning}`) : undefined,
    rawFullScale: exactNumber(valueOf(results.rawFullScale), ''),
    rawNumerator: exactNumber(valueOf(results.rawNumerator), ''),
    rawDenominator: exactNumber(valueOf(results.rawDenominator), ''),
    rawOffset: exactNumber(valueOf(results.rawOffset), axisWords('{value}', input)),
    signalLossTrips: word(command.faultDetected ? 'yes' : 'no'),
  }),
  controllerSettings: scaledController,
  fromLibrary: (command, { controller, drive }) => {
    const input = drive?.signalInput;
    return {
      ...command,
      generatorBits: controller?.pwmBits ?? command.generatorBits,
      carrier: controller?.pwmFrequency ?? command.carrier,
      captureClock: input?.captureClock ?? command.captureClock,
      rawFullScale: input?.rawFullScale ? String(input.rawFullScale) : command.rawFullScale,
    };
  },
  wires: ({ meaning, faultDetected }) => pwmWires(meaning, faultDetected),
  form: ({ meaning }) => `PWM ${meaning}`,
};
