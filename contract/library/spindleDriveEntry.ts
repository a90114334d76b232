import { spindleDriveRoles } from '@kavrid/core/drive';
import { z } from 'zod';
import { spindleDriveSchema } from '../spindleDocument.ts';
import { endValueSchema } from './endValue.ts';
import { shelfFields } from './shelfFields.ts';
import { alarmTable } from './driveEntry.ts';

export const spindleDriveKinds = ['variable-frequency drive', 'spindle drive with feedback'] as const;

/** A spindle drive on the shelf: its limits, its registers, its list of values, and how it tells what is the matter. */
export const spindleDriveEntrySchema = spindleDriveSchema.extend({
  kind: z.enum(spindleDriveKinds),
  values: z.array(endValueSchema(spindleDriveRoles)).max(2000),
  alarms: alarmTable,
  ...shelfFields,
});
export type SpindleDriveEntry = z.infer<typeof spindleDriveEntrySchema>;
