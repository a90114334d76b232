import { z } from 'zod';
import { cableSchema, controllerSchema, driveSchema, motorForms, type AxisDocument } from '../documents.ts';
import { cableEntrySchema, type CableEntry } from './cableEntry.ts';
import { controllerEntrySchema, type ControllerEntry } from './controllerEntry.ts';
import { driveEntrySchema, type DriveEntry } from './driveEntry.ts';
import { motorEntrySchema, type MotorEntry } from './motorEntry.ts';

export const libraryKinds = ['motor', 'drive', 'controller', 'cable'] as const;
export type LibraryKind = (typeof libraryKinds)[number];

export const entrySchemas = {
  motor: motorEntrySchema,
  drive: driveEntrySchema,
  controller: controllerEntrySchema,
  cable: cableEntrySchema,
} as const;

export interface EntryOf {
  readonly motor: MotorEntry;
  readonly drive: DriveEntry;
  readonly controller: ControllerEntry;
  readonly cable: CableEntry;
}

/** What lies on the shelf, with its kind. */
export const libraryEntrySchema = z.discriminatedUnion('shelf', [
  z.strictObject({ shelf: z.literal('motor'), entry: motorEntrySchema }),
  z.strictObject({ shelf: z.literal('drive'), entry: driveEntrySchema }),
  z.strictObject({ shelf: z.literal('controller'), entry: controllerEntrySchema }),
  z.strictObject({ shelf: z.literal('cable'), entry: cableEntrySchema }),
]);
export type LibraryEntry = z.infer<typeof libraryEntrySchema>;

type Origin = AxisDocument['motor']['entry'];

const fieldsOf = <T extends object, K extends keyof T>(entry: T, names: readonly K[]): Pick<T, K> =>
  Object.fromEntries(names.map((name) => [name, entry[name]])) as Pick<T, K>;
const namesOf = <S extends z.ZodObject>(schema: S) => Object.keys(schema.shape) as (keyof z.infer<S>)[];

/** The part of an axis that an entry fills. */
export function partOfAxis(item: LibraryEntry, origin: Origin): Partial<Pick<AxisDocument, LibraryKind>> {
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
  }
}

/** The axis with an entry's data in it. */
export const withEntry = (axis: AxisDocument, item: LibraryEntry, origin: Origin): AxisDocument => ({
  ...axis,
  ...partOfAxis(item, origin),
});
