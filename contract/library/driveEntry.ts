import { parameterRoles } from '@kavrid/core/drive';
import { z } from 'zod';
import { driveSchema } from '../documents.ts';
import { approximate, line } from '../fields.ts';
import { endValueSchema } from './endValue.ts';
import { shelfFields } from './shelfFields.ts';
import { terminalTable } from './terminalTable.ts';

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
export type CommandForm = (typeof commandForms)[number];
export const clearingWays = ['when its cause is gone', 'by a reset', 'by a restart', 'by switching off'] as const;

const word = line(40);
const sentence = line(300);
const table = <T extends z.ZodType>(row: T, most: number) => z.array(row).max(most);

/** What a drive shows when something is wrong. */
export const alarmTable = table(
  z.strictObject({
    code: word,
    meaning: sentence,
    clears: z.enum(clearingWays),
    positionStays: z.boolean(),
    remedy: sentence,
  }),
  500,
);

/** A drive on the shelf: its limits and forms, its list of values, and how it tells what is the matter. */
export const driveEntrySchema = driveSchema.extend({
  /** What it takes besides pulses, and gives back; null where the manual does not say or it has none. */
  signalInput: z.strictObject({
    analogBits: approximate('converterBits'),
    inputResistance: approximate('potResistance'),
    referenceVoltage: approximate('referenceVoltage'),
    referenceCurrent: approximate('current'),
    captureClock: approximate('pulseRate'),
    rawFullScale: approximate('rawFullScale'),
    storedMoves: approximate('storedMoves'),
    encoderOutputRate: approximate('pulseRate'),
  }),
  commands: z.array(z.enum(commandForms)).max(commandForms.length),
  values: table(endValueSchema(parameterRoles), 2000),
  lamps: table(z.strictObject({ pattern: line(80), meaning: sentence }), 100),
  displays: table(z.strictObject({ shows: word, meaning: sentence }), 300),
  alarms: alarmTable,
  firmware: table(z.strictObject({ version: word, note: sentence }), 100),
  terminals: terminalTable,
  ...shelfFields,
});
export type DriveEntry = z.infer<typeof driveEntrySchema>;
