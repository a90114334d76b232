import { z } from 'zod';
import { motorForms } from '../documents.ts';
import { shelfFields } from './shelfFields.ts';

export const motorKinds = ['AC servo', 'closed-loop stepper', 'brushed DC servo', 'brushless motor'] as const;

/** A motor on the shelf: one that turns, or one that pushes along a line. */
export const motorEntrySchema = z.discriminatedUnion('form', [
  motorForms.rotary.extend({ kind: z.enum(motorKinds), ...shelfFields }),
  motorForms.linear.extend(shelfFields),
]);
export type MotorEntry = z.infer<typeof motorEntrySchema>;
