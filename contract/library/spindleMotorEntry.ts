import type { z } from 'zod';
import { line } from '../fields.ts';
import { spindleMotorSchema } from '../spindleDocument.ts';

/** A spindle motor on the shelf. */
export const spindleMotorEntrySchema = spindleMotorSchema.extend({ notes: line(2000) });
export type SpindleMotorEntry = z.infer<typeof spindleMotorEntrySchema>;
