import type { CommandDocument } from '../commandDocument.ts';
import type { ControllerEntry } from './controllerEntry.ts';
import type { commandForms, DriveEntry } from './driveEntry.ts';

/** The two ends of a command as the library knows them. */
export interface KnownEnds {
  readonly controller?: ControllerEntry | undefined;
  readonly drive?: DriveEntry | undefined;
}

/** A command with what the library knows of who sends and who takes it; what is not known stays. */
export function commandFrom(command: CommandDocument, { controller, drive }: KnownEnds): CommandDocument {
  const input = drive?.signalInput;
  switch (command.kind) {
    case 'analog': {
      const { potentiometer: pot, loop } = command;
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
    }
    case 'pwm':
      return {
        ...command,
        generatorBits: controller?.pwmBits ?? command.generatorBits,
        carrier: controller?.pwmFrequency ?? command.carrier,
        captureClock: input?.captureClock ?? command.captureClock,
        rawFullScale: input?.rawFullScale ? String(input.rawFullScale) : command.rawFullScale,
      };
    case 'choice':
      return { ...command, storedMoves: input?.storedMoves ?? command.storedMoves };
    case 'stepDirection':
    case 'clockwisePulses':
    case 'quadrature':
    case 'untimedPulses':
      return command;
  }
}

/** What a command is called in the list of those that a drive takes. */
export function commandFormOf(command: CommandDocument): (typeof commandForms)[number] {
  switch (command.kind) {
    case 'stepDirection':
      return 'step and direction';
    case 'clockwisePulses':
      return 'clockwise and counter-clockwise pulses';
    case 'quadrature':
      return 'quadrature';
    case 'untimedPulses':
      return 'untimed pulse train';
    case 'analog':
      return `analog ${command.meaning}`;
    case 'pwm':
      return `PWM ${command.meaning}`;
    case 'choice':
      return 'choice inputs';
  }
}
