import { keyInSteps } from '@kavrid/core/drive';
import { z } from 'zod';
import { approximate, line } from '../fields.ts';

export const accessKinds = ['read and write', 'read only', 'locked until unlocked'] as const;

const word = line(40);
const sentence = line(300);

/** One value of a drive's or a controller's own list, as its manual tells it. */
export const endValueSchema = <R extends readonly [string, ...string[]]>(roles: R) =>
  z.strictObject({
    code: word.min(1, 'A value needs its code.'),
    label: line(80),
    group: word,
    unit: line(20),
    access: z.enum(accessKinds),
    takesEffect: z.enum(['at once', 'after restart']),
    factory: word,
    /** What to key where no role says it: a lock code, a store or reset, the number of a motor. */
    keyValue: word,
    minimum: word,
    maximum: word,
    /** What it means to Kavrid. */
    role: z.enum(roles).nullable(),
    note: sentence,
    keyIn: z.enum(keyInSteps),
    /** What one keys is the value over this. */
    scale: approximate('scale'),
    /** A value split over two codes: high = floor(value / base), low = the rest. */
    half: z.enum(['whole', 'high', 'low']),
    halfBase: approximate('scale'),
    /** A field of bits in a code that others share, from its lowest bit; null: the code is its own. */
    firstBit: z.int().min(0).max(31).nullable(),
    bits: z.int().min(1).max(32).nullable(),
    /** `0 = low; 1 = high` */
    choices: sentence,
    /** What the display shows when it has been keyed in. */
    shows: word,
  });
