import type { CommandDocument } from '../commandDocument.ts';
import type { ControllerEntry } from './controllerEntry.ts';
import type { commandForms } from './driveEntry.ts';

/** A command with what the library knows of the controller that sends it. */
export function commandFrom(command: CommandDocument, controller: ControllerEntry): CommandDocument {
  switch (command.kind) {
    case 'analog':
      return {
        ...command,
        controllerBits: controller.analogBits ?? command.controllerBits,
        loop: command.loop && { ...command.loop, inputRate: controller.encoderInputRate ?? command.loop.inputRate },
      };
    case 'pwm':
      return {
        ...command,
        generatorBits: controller.pwmBits ?? command.generatorBits,
        carrier: controller.pwmFrequency ?? command.carrier,
      };
    case 'stepDirection':
    case 'clockwisePulses':
    case 'quadrature':
    case 'untimedPulses':
    case 'choice':
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
