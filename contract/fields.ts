import './withoutCodeGeneration.ts';
import { toNumber } from '@kavrid/core/quantity';
import { z } from 'zod';
import { rules, type RuleName } from './rules.ts';

export const line = (most: number) => z.string().trim().max(most);
export const name = line(80).min(1, 'A name is needed.');

/** Made by `randomUUID`, or short words in files made by hand. */
export const idSchema = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/, 'Letters, digits, “-” and “_” are allowed, at most 40.');
export const versionSchema = z
  .int()
  .min(1)
  // Far from any number that saving by hand can reach, and exact in JSON.
  .max(2 ** 50);
export const momentSchema = z.iso.datetime();

/** Who saves; empty until a name has been given. */
export const authorSchema = line(80);

/** Exact values are kept as typed; whether they can be read is checked with the whole axis, which knows the units. */
export const exactText = z.string().max(60);

/** An approximate value in the unit of its rule; null where nothing has been typed yet. */
export function approximate(rule: RuleName) {
  const { above, atLeast, atMost, whole } = rules[rule] as {
    above?: never;
    atLeast?: never;
    atMost?: never;
    whole?: true;
  };
  let schema = whole ? z.number().int() : z.number();
  if (above) schema = schema.gt(toNumber(above));
  if (atLeast) schema = schema.gte(toNumber(atLeast));
  if (atMost) schema = schema.lte(toNumber(atMost));
  return schema.nullable();
}
