import type { z } from 'zod';
import { shelfFields } from './shelfFields.ts';
import { spindleMotorSchema } from '../spindleDocument.ts';

/** A spindle motor on the shelf. */
export const spindleMotorEntrySchema = spindleMotorSchema.extend(shelfFields);
export type SpindleMotorEntry = z.infer<typeof spindleMotorEntrySchema>;
