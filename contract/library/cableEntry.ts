import type { z } from 'zod';
import { cableSchema } from '../documents.ts';
import { shelfFields } from './shelfFields.ts';

/** A cable on the shelf, ready-made or to be made so: its own resistors, its shield, which pin goes where. */
export const cableEntrySchema = cableSchema.extend(shelfFields);
export type CableEntry = z.infer<typeof cableEntrySchema>;
