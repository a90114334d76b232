import './withoutCodeGeneration.ts';
import { z } from 'zod';
import { idSchema, line, versionSchema } from './fields.ts';

// Parts that axes and spindles have alike.

/** The library entry that data were taken from and its version then; null when they were typed by hand. */
export const origin = z.strictObject({ id: idSchema, version: versionSchema }).nullable();

const shortText = line(60);
/**
 * By `end/code`: what was found set at an end, the user's own note beside it, and the number the user gives where nothing plans one.
 * What was keyed in, as `end/code=value`.
 */
export const keyingSchema = z.strictObject({
  found: z.record(shortText, shortText),
  notes: z.record(shortText, line(300)),
  given: z.record(shortText, shortText),
  done: z.array(line(120)).max(2000),
});

/** A host name or an address. */
export const hostSchema = z
  .string()
  .trim()
  .max(253)
  .regex(/^[A-Za-z0-9.:-]+$/, 'Enter a host name or an address, such as 127.0.0.1.');

/** A serial port by its path, or by its name on Windows. */
export const serialPathSchema = z
  .string()
  .trim()
  .max(200)
  .regex(/^(\/(?!.*\.\.)[A-Za-z0-9._/:-]+|COM\d{1,3})$/, 'Enter the path of a serial port, such as /dev/ttyUSB0.');

export const baudRates = [1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200, 230400] as const;

/** What was typed into fields and cannot be taken, by the field's JSON pointer; the field keeps its last valid value. */
export const unreadSchema = z.record(z.string().regex(/^\//).max(200), z.string().max(120));

/** Where a drive is reached. */
export const linkSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('tcp'),
    host: hostSchema,
    port: z.int().min(1).max(65535),
    unit: z.int().min(0).max(255),
    profileId: line(40).nullable(),
  }),
  z.strictObject({
    kind: z.literal('serial'),
    path: serialPathSchema,
    baud: z.literal(baudRates),
    parity: z.enum(['none', 'even', 'odd']),
    stopBits: z.literal([1, 2]),
    /** Addresses of single devices (Modbus over Serial Line V1.02, 2.2). */
    unit: z.int().min(1).max(247),
    profileId: line(40).nullable(),
  }),
]);
export type LinkDocument = z.infer<typeof linkSchema>;
