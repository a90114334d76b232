import type { CommandInput } from '@kavrid/core/chain';
import type { Wire } from '@kavrid/core/signal';
import type { CommandDocument } from '../commandDocument.ts';
import type { AxisDocument } from '../documents.ts';
import type { CommandForm } from '../library/driveEntry.ts';
import type { ReadNumber, ReadText } from '../toCore/fieldReader.ts';
import { analogCommand } from './analog.ts';
import { choiceCommand } from './choice.ts';
import type { CommandDocumentOf, CommandFace, KnownEnds, Planned } from './commandFace.ts';
import { clockwisePulsesCommand, quadratureCommand, stepDirectionCommand, untimedPulsesCommand } from './pulses.ts';
import { pwmCommand } from './pwm.ts';

type Kind = CommandDocument['kind'];

/** Every kind of command. */
const faces: { readonly [K in Kind]: CommandFace<CommandDocumentOf<K>> } = {
  stepDirection: stepDirectionCommand,
  clockwisePulses: clockwisePulsesCommand,
  quadrature: quadratureCommand,
  untimedPulses: untimedPulsesCommand,
  analog: analogCommand,
  pwm: pwmCommand,
  choice: choiceCommand,
};

const of = <K extends Kind, T>(
  kind: K,
  command: CommandDocumentOf<K>,
  ask: (face: CommandFace<CommandDocumentOf<K>>, command: CommandDocumentOf<K>) => T,
): T => ask(faces[kind], command);

/** A new command of a kind, with what can be taken over from the one before it. */
export const newCommand = (kind: Kind, before: Partial<CommandDocument>): CommandDocument => faces[kind].make(before);

/** What tells an axis its moves. */
export const readCommand = (axis: AxisDocument, text: ReadText, number: ReadNumber): CommandInput =>
  of(axis.command.kind, axis.command, (face, command) => face.read(command, axis, text, number));

/** How the drive is set to listen to its command. */
export const commandDriveSettings = (planned: Planned) =>
  of(planned.axis.command.kind, planned.axis.command, (face, command) => face.driveSettings(command, planned));

/** How the controller is set to send it. */
export const commandControllerSettings = (planned: Planned) =>
  of(planned.axis.command.kind, planned.axis.command, (face, command) => face.controllerSettings(command, planned));

/** Values of the drive that only a kind of command has, and what is planned for them. */
export const commandValues = (command: CommandDocument, axisUnit: string) =>
  of(command.kind, command, (face, each) => face.ownValues?.(each, axisUnit)) ?? [];
export const commandValueSettings = (command: CommandDocument, axisUnit: string) =>
  of(command.kind, command, (face, each) => face.ownSettings?.(each, axisUnit)) ?? [];

/** A command with what the library knows of who sends and who takes it; what is not known stays. */
export const commandFrom = (command: CommandDocument, ends: KnownEnds): CommandDocument =>
  of<Kind, CommandDocument>(command.kind, command, (face, each) => face.fromLibrary?.(each, ends) ?? each);

/** The wires of a command between controller and drive. */
export const commandWires = (command: CommandDocument): readonly Wire[] =>
  of(command.kind, command, (face, each) => face.wires(each));

/** What a command is called in the list of those that a drive takes. */
export const commandFormOf = (command: CommandDocument): CommandForm =>
  of(command.kind, command, (face, each) => face.form(each));
