import type { AxisDocument } from '../documents.ts';

/** By code: the numbers that the user gives at an end for values that nothing plans. */
export const givenAt = (
  { given }: AxisDocument['keying'],
  end: 'controller' | 'drive',
): Readonly<Record<string, string>> =>
  Object.fromEntries(
    Object.entries(given).flatMap(([place, text]) =>
      place.startsWith(`${end}/`) ? [[place.slice(end.length + 1), text]] : [],
    ),
  );
