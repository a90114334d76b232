import { z } from 'zod';
import { cableSchema, controllerSchema, driveSchema, motorForms, type AxisDocument } from '../documents.ts';
import { byKind, type MemberDocument } from '../member.ts';
import { spindleDriveSchema, spindleMotorSchema, type SpindleDocument } from '../spindleDocument.ts';
import { cableEntrySchema, type CableEntry } from './cableEntry.ts';
import { controllerEntrySchema, type ControllerEntry } from './controllerEntry.ts';
import { driveEntrySchema, type DriveEntry } from './driveEntry.ts';
import { motorEntrySchema, type MotorEntry } from './motorEntry.ts';
import { spindleDriveEntrySchema, type SpindleDriveEntry } from './spindleDriveEntry.ts';
import { spindleMotorEntrySchema, type SpindleMotorEntry } from './spindleMotorEntry.ts';

export const libraryKinds = ['motor', 'drive', 'controller', 'cable', 'spindle motor', 'spindle drive'] as const;
export type LibraryKind = (typeof libraryKinds)[number];

export const entrySchemas = {
  motor: motorEntrySchema,
  drive: driveEntrySchema,
  controller: controllerEntrySchema,
  cable: cableEntrySchema,
  'spindle motor': spindleMotorEntrySchema,
  'spindle drive': spindleDriveEntrySchema,
} as const;

export interface EntryOf {
  readonly motor: MotorEntry;
  readonly drive: DriveEntry;
  readonly controller: ControllerEntry;
  readonly cable: CableEntry;
  readonly 'spindle motor': SpindleMotorEntry;
  readonly 'spindle drive': SpindleDriveEntry;
}

/** What lies on the shelf, with its kind. */
export const libraryEntrySchema = z.discriminatedUnion('shelf', [
  z.strictObject({ shelf: z.literal('motor'), entry: motorEntrySchema }),
  z.strictObject({ shelf: z.literal('drive'), entry: driveEntrySchema }),
  z.strictObject({ shelf: z.literal('controller'), entry: controllerEntrySchema }),
  z.strictObject({ shelf: z.literal('cable'), entry: cableEntrySchema }),
  z.strictObject({ shelf: z.literal('spindle motor'), entry: spindleMotorEntrySchema }),
  z.strictObject({ shelf: z.literal('spindle drive'), entry: spindleDriveEntrySchema }),
]);
export type LibraryEntry = z.infer<typeof libraryEntrySchema>;

type Origin = AxisDocument['motor']['entry'];

const fieldsOf = <T extends object, K extends keyof T>(entry: T, names: readonly K[]): Pick<T, K> =>
  Object.fromEntries(names.map((name) => [name, entry[name]])) as Pick<T, K>;
const namesOf = <S extends z.ZodObject>(schema: S) => Object.keys(schema.shape) as (keyof z.infer<S>)[];

/** The part of an axis that an entry fills; nothing where it belongs to spindles. */
export function partOfAxis(
  item: LibraryEntry,
  origin: Origin,
): Partial<Pick<AxisDocument, 'motor' | 'drive' | 'controller' | 'cable'>> {
  switch (item.shelf) {
    case 'motor':
      return item.entry.form === 'linear'
        ? { motor: { ...fieldsOf(item.entry, namesOf(motorForms.linear)), entry: origin } }
        : { motor: { ...fieldsOf(item.entry, namesOf(motorForms.rotary)), entry: origin } };
    case 'drive':
      return { drive: { ...fieldsOf(item.entry, namesOf(driveSchema)), entry: origin } };
    case 'controller':
      return { controller: { ...fieldsOf(item.entry, namesOf(controllerSchema)), entry: origin } };
    case 'cable':
      return { cable: { ...fieldsOf(item.entry, namesOf(cableSchema)), entry: origin } };
    case 'spindle motor':
    case 'spindle drive':
      return {};
  }
}

/** The part of a spindle that an entry fills; nothing where it belongs to axes. */
export function partOfSpindle(
  item: LibraryEntry,
  origin: Origin,
): Partial<Pick<SpindleDocument, 'motor' | 'drive' | 'controller'>> {
  switch (item.shelf) {
    case 'spindle motor':
      return { motor: { ...fieldsOf(item.entry, namesOf(spindleMotorSchema)), entry: origin } };
    case 'spindle drive':
      return { drive: { ...fieldsOf(item.entry, namesOf(spindleDriveSchema)), entry: origin } };
    case 'controller':
      return { controller: { name: item.entry.name, entry: origin } };
    case 'motor':
    case 'drive':
    case 'cable':
      return {};
  }
}

/** The axis or spindle with an entry's data in it. */
export const withEntry = <M extends MemberDocument>(member: M, item: LibraryEntry, origin: Origin): M => ({
  ...member,
  ...byKind<object>(member, {
    axis: () => partOfAxis(item, origin),
    spindle: () => partOfSpindle(item, origin),
  }),
});

/** The entries that parts of an axis or spindle came from. */
export const originsOf = (member: MemberDocument): readonly Origin[] =>
  byKind<readonly Origin[]>(member, {
    axis: ({ motor, drive, controller, cable }) => [motor.entry, drive.entry, controller.entry, cable.entry],
    spindle: ({ motor, drive, controller }) => [motor.entry, drive.entry, controller.entry],
  });
