import type { ParameterComparison, RawValues } from '@kavrid/core/drive';

/** One set of drive values that can be set beside another. */
export type ValueColumn =
  | { readonly kind: 'planned' | 'running' | 'stored' | 'factory' }
  | { readonly kind: 'other'; readonly id: string; readonly title: string; readonly values: RawValues };

export const ownColumns = {
  planned: 'Planned',
  running: 'Running in the drive',
  stored: 'Stored in the drive',
  factory: 'Factory values',
} as const satisfies Record<Exclude<ValueColumn['kind'], 'other'>, string>;

export const ownKinds = ['planned', 'running', 'stored', 'factory'] as const;

export const columnTitle = (column: ValueColumn): string =>
  column.kind === 'other' ? column.title : ownColumns[column.kind];

/** The raw value of a parameter in a column. */
export const valueIn = (column: ValueColumn, comparison: ParameterComparison): number | undefined =>
  column.kind === 'other' ? column.values[comparison.parameter.key] : comparison[column.kind];

/** Whether two columns tell different values; what one of them does not tell cannot be compared. */
export function differIn(
  [first, second]: readonly [ValueColumn, ValueColumn],
  comparison: ParameterComparison,
): boolean | undefined {
  const [a, b] = [valueIn(first, comparison), valueIn(second, comparison)];
  return a === undefined || b === undefined ? undefined : a !== b;
}
