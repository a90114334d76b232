import type { PlannedSetting } from '@kavrid/core/drive';
import type { Exact } from '@kavrid/core/quantity';

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

/** @param span what it is a scale of, at most: the travel of an axis */
export const exactNumber = (value: Exact | undefined, unit: string, span?: number): PlannedSetting | undefined =>
  value && { kind: 'exact', value, unit, ...(span === undefined ? {} : { span }) };

/** A plan of those settings that have a value. */
export function planOf<R extends string>(settings: Readonly<Partial<Record<R, PlannedSetting | undefined>>>): Plan<R> {
  const entries = Object.entries(settings) as [R, PlannedSetting | undefined][];
  return new Map(entries.filter((entry): entry is [R, PlannedSetting] => entry[1] !== undefined));
}
