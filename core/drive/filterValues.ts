import type { ParameterComparison } from './compareValues.ts';
import { isInRange } from './driveProfile.ts';

/** What of a drive's values is looked at. */
export const valueFilters = {
  all: 'all values',
  planned: 'planned values',
  differs: 'different from the plan',
  changed: 'changed from the factory value',
  unfinished: 'not stored, or waiting for a restart',
  outOfRange: 'out of range',
} as const;
export type ValueFilter = keyof typeof valueFilters;

const passes: Readonly<Record<ValueFilter, (comparison: ParameterComparison) => boolean>> = {
  all: () => true,
  planned: ({ planned, standing }) => planned !== undefined || standing === 'cannot be written',
  differs: ({ standing }) => standing === 'differs' || standing === 'cannot be written',
  changed: ({ running, factory }) => running !== undefined && factory !== undefined && running !== factory,
  // Also of values that nobody has planned: they are lost at the next restart, or come into effect with it.
  unfinished: ({ written, running, stored }) =>
    (written !== undefined && running !== undefined && written !== running) ||
    (stored !== undefined && running !== undefined && stored !== (written ?? running)),
  outOfRange: ({ parameter, running }) => running !== undefined && !isInRange(parameter, running),
};

/**
 * The values that are looked at.
 * @param text words that all have to be found in label, group, key, object or address; upper and lower case are alike
 */
export function filterValues(
  comparisons: readonly ParameterComparison[],
  filter: ValueFilter,
  text: string,
): readonly ParameterComparison[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return comparisons.filter((comparison) => {
    const { label, group, key, object = '', address } = comparison.parameter;
    const place = `${label} ${group} ${key} ${object} ${address}`.toLowerCase();
    return passes[filter](comparison) && words.every((word) => place.includes(word));
  });
}
