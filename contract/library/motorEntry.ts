import { z } from 'zod';
import { motorSchema } from '../documents.ts';
import { approximate, line, name } from '../fields.ts';

const notes = line(2000);

export const motorKinds = ['AC servo', 'closed-loop stepper', 'brushed DC servo', 'brushless motor'] as const;

/** A motor on the shelf: one that turns, or one that pushes along a line and has counts per mm instead of a revolution. */
export const motorEntrySchema = z.discriminatedUnion('form', [
  motorSchema.extend({ form: z.literal('rotary'), kind: z.enum(motorKinds), notes }),
  z.strictObject({
    form: z.literal('linear'),
    name,
    ratedForce: approximate('force'),
    peakForce: approximate('force'),
    topSpeed: approximate('linearSpeed'),
    movingMass: approximate('mass'),
    countsPerMillimetre: approximate('countsPerMillimetre'),
    notes,
  }),
]);
export type MotorEntry = z.infer<typeof motorEntrySchema>;
