import type { z } from 'zod';
import { cableSchema } from '../documents.ts';
import { line } from '../fields.ts';

/** A cable on the shelf, ready-made or to be made so: its own resistors, its shield, which pin goes where. */
export const cableEntrySchema = cableSchema.extend({ notes: line(2000) });
export type CableEntry = z.infer<typeof cableEntrySchema>;
