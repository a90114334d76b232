import { z } from 'zod';
import type { AxisDocument } from '../documents.ts';
import { controllerEntrySchema, type ControllerEntry } from './controllerEntry.ts';
import { driveEntrySchema, type DriveEntry } from './driveEntry.ts';
import { motorEntrySchema, type MotorEntry } from './motorEntry.ts';

export const libraryKinds = ['motor', 'drive', 'controller'] as const;
export type LibraryKind = (typeof libraryKinds)[number];

export const entrySchemas = {
  motor: motorEntrySchema,
  drive: driveEntrySchema,
  controller: controllerEntrySchema,
} as const;

export interface EntryOf {
  readonly motor: MotorEntry;
  readonly drive: DriveEntry;
  readonly controller: ControllerEntry;
}

/** What lies on the shelf, with its kind. */
export const libraryEntrySchema = z.discriminatedUnion('shelf', [
  z.strictObject({ shelf: z.literal('motor'), entry: motorEntrySchema }),
  z.strictObject({ shelf: z.literal('drive'), entry: driveEntrySchema }),
  z.strictObject({ shelf: z.literal('controller'), entry: controllerEntrySchema }),
]);
export type LibraryEntry = z.infer<typeof libraryEntrySchema>;

type Origin = AxisDocument['motor']['entry'];

/** The part of an axis that an entry fills; undefined for a linear motor, which a chain of revolutions cannot take. */
export function partOfAxis(
  item: LibraryEntry,
  origin: Origin,
): Partial<Pick<AxisDocument, 'motor' | 'drive' | 'controller'>> | undefined {
  switch (item.shelf) {
    case 'motor': {
      if (item.entry.form === 'linear') return undefined;
      const { name, ratedPower, ratedTorque, peakTorque, ratedSpeed, topSpeed, rotorInertia, encoder } = item.entry;
      return {
        motor: {
          name,
          ratedPower,
          ratedTorque,
          peakTorque,
          ratedSpeed,
          topSpeed,
          rotorInertia,
          encoder,
          entry: origin,
        },
      };
    }
    case 'drive': {
      const { name, numeratorMax, denominatorMax, ratioMin, ratioMax, differentialRate, singleEndedRate, counterBits } =
        item.entry;
      return {
        drive: {
          name,
          numeratorMax,
          denominatorMax,
          ratioMin,
          ratioMax,
          differentialRate,
          singleEndedRate,
          counterBits,
          entry: origin,
        },
      };
    }
    case 'controller': {
      const { name, maximumPulseRate } = item.entry;
      return { controller: { name, maximumPulseRate, entry: origin } };
    }
  }
}

/** The axis with an entry's data in it; the axis itself where it cannot take them. */
export const withEntry = (axis: AxisDocument, item: LibraryEntry, origin: Origin): AxisDocument => ({
  ...axis,
  ...partOfAxis(item, origin),
});
