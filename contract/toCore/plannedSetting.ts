import type { PlannedSetting } from '@kavrid/core/drive';
import {
  equals,
  exactRatio,
  exactToText,
  isWhole,
  rationalFromNumber,
  toNumber,
  type Exact,
} from '@kavrid/core/quantity';

// Values as they are planned for a key-in sheet.

export type Plan<R extends string> = ReadonlyMap<R, PlannedSetting>;

/** @param raw the number that stands for it in every drive that has the value as a number */
export const word = (text: string, { raw }: { readonly raw?: number } = {}): PlannedSetting => ({
  kind: 'word',
  word: text,
  ...(raw === undefined ? {} : { raw }),
});

export const number = (value: number | null | undefined, unit: string): PlannedSetting | undefined =>
  value === null || value === undefined ? undefined : { kind: 'number', value, unit };

export const exactNumber = (value: Exact | undefined, unit: string): PlannedSetting | undefined => {
  if (!value) return undefined;
  const decimal = toNumber(value);
  // What ends after some decimals is keyed so; a third stays a fraction, while it is short.
  const text = equals(exactRatio(rationalFromNumber(decimal)), value) ? String(decimal) : exactToText(value);
  return isWhole(value) || (!text.includes('π') && text.length <= 14)
    ? { kind: 'text', text: isWhole(value) ? exactToText(value) : text }
    : number(decimal, unit);
};

/** A plan of those settings that have a value. */
export function planOf<R extends string>(settings: Readonly<Partial<Record<R, PlannedSetting | undefined>>>): Plan<R> {
  const entries = Object.entries(settings) as [R, PlannedSetting | undefined][];
  return new Map(entries.filter((entry): entry is [R, PlannedSetting] => entry[1] !== undefined));
}
