import { parameterRoles } from '@kavrid/core/drive';
import { z } from 'zod';
import { driveSchema } from '../documents.ts';
import { approximate, exactText, line } from '../fields.ts';

export const commandForms = [
  'step and direction',
  'clockwise and counter-clockwise pulses',
  'quadrature',
  'untimed pulse train',
  'analog speed',
  'analog torque',
  'analog position',
  'PWM speed',
  'PWM position',
  'choice inputs',
  'field bus',
] as const;
export const ratioForms = ['numerator and denominator', 'pulses per revolution', 'switch table', 'multiplier'] as const;
export const accessKinds = ['read and write', 'read only', 'locked until unlocked'] as const;
export const clearingWays = ['when its cause is gone', 'by a reset', 'by a restart', 'by switching off'] as const;

const word = line(40);
const sentence = line(300);
const table = <T extends z.ZodType>(row: T, most: number) => z.array(row).max(most);

/** One value of the drive's own list, as its manual tells it. */
export const driveValueSchema = z.strictObject({
  code: word.min(1, 'A value needs its code.'),
  label: line(80),
  group: word,
  unit: line(20),
  access: z.enum(accessKinds),
  takesEffect: z.enum(['at once', 'after restart']),
  factory: word,
  minimum: word,
  maximum: word,
  /** What it means to Kavrid. */
  role: z.enum(parameterRoles).nullable(),
  note: sentence,
});

/** A drive on the shelf: its limits and forms, its list of values, and how it tells what is the matter. */
export const driveEntrySchema = driveSchema.extend({
  commands: z.array(z.enum(commandForms)).max(commandForms.length),
  minimumPulseWidth: approximate('pulseWidth'),
  directionSetUp: approximate('pulseWidth'),
  ratioForm: z.enum(ratioForms),
  /** Its manual writes counts = increments × D / N. */
  ratioInverted: z.boolean(),
  switchTable: table(z.strictObject({ switches: word, value: exactText }), 64),
  supply: z.strictObject({
    kind: z.enum(['AC', 'DC']),
    phases: z.enum(['1', '3', '1 or 3', '']),
    minimum: approximate('voltage'),
    maximum: approximate('voltage'),
  }),
  values: table(driveValueSchema, 2000),
  lamps: table(z.strictObject({ pattern: line(80), meaning: sentence }), 100),
  displays: table(z.strictObject({ shows: word, meaning: sentence }), 300),
  alarms: table(
    z.strictObject({
      code: word,
      meaning: sentence,
      clears: z.enum(clearingWays),
      positionStays: z.boolean(),
      remedy: sentence,
    }),
    500,
  ),
  firmware: table(z.strictObject({ version: word, note: sentence }), 100),
  notes: line(2000),
});
export type DriveEntry = z.infer<typeof driveEntrySchema>;
