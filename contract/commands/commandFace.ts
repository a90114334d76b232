import type { AxisInput, AxisValues, CommandInput } from '@kavrid/core/chain';
import type { ControllerRole, EndValue, ParameterRole, PlannedSetting } from '@kavrid/core/drive';
import type { Evaluation } from '@kavrid/core/sheet';
import type { Wire } from '@kavrid/core/signal';
import type { CommandDocument } from '../commandDocument.ts';
import type { AxisDocument } from '../documents.ts';
import type { ControllerEntry } from '../library/controllerEntry.ts';
import type { CommandForm, DriveEntry } from '../library/driveEntry.ts';
import type { ReadNumber, ReadText } from '../toCore/fieldReader.ts';

export type CommandDocumentOf<K extends CommandDocument['kind']> = Extract<CommandDocument, { readonly kind: K }>;

/** What an axis comes to, for the plans of its two ends. */
export interface Planned {
  readonly axis: AxisDocument;
  readonly input: AxisInput;
  readonly results: Evaluation<AxisValues>;
  /** Axis units of the whole travel. */
  readonly travel: number | undefined;
}

/** The two ends of a command as the library knows them. */
export interface KnownEnds {
  readonly controller?: ControllerEntry | undefined;
  readonly drive?: DriveEntry | undefined;
}

type Settings<R extends string> = Readonly<Partial<Record<R, PlannedSetting | undefined>>>;

/** What the document’s side knows of a kind of command. */
export interface CommandFace<C extends CommandDocument> {
  /** A new one, with what can be taken over from the command before it. */
  readonly make: (before: Partial<CommandDocument>) => C;
  /** What core works with. */
  readonly read: (command: C, axis: AxisDocument, text: ReadText, number: ReadNumber) => CommandInput;
  /** How the drive is set to listen to it; how the controller is set to send it. */
  readonly driveSettings: (command: C, planned: Planned) => Settings<ParameterRole>;
  readonly controllerSettings: (command: C, planned: Planned) => Settings<ControllerRole>;
  /** Values of the drive that only this command has, such as its stored moves, in the unit shown; and what is planned for them. */
  readonly ownValues?: (command: C, axisUnit: string) => readonly EndValue[];
  readonly ownSettings?: (command: C, axisUnit: string) => readonly (readonly [string, PlannedSetting])[];
  /** It with what the library knows of who sends and who takes it; absent: nothing. */
  readonly fromLibrary?: (command: C, ends: KnownEnds) => C;
  /** Its wires between controller and drive. */
  readonly wires: (command: C) => readonly Wire[];
  /** What it is called in the list of those that a drive takes. */
  readonly form: (command: C) => CommandForm;
}

/** Whether the direction of a command is inverted, whatever its kind. */
export const invertedBefore = (before: Partial<CommandDocument>): boolean => before.inverted ?? false;
