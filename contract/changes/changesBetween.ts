import type { DocumentPath } from './documentPath.ts';

/** One field that differs between two states of a document; absent counts as undefined. */
export interface Change {
  readonly path: DocumentPath;
  readonly before: unknown;
  readonly after: unknown;
}

type Fields = Readonly<Record<string, unknown>>;
const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether two JSON values are the same. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((each, k) => sameJson(each, b[k]));
  if (!isFields(a) || !isFields(b)) return false;
  const names = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...names].every((name) => sameJson(a[name], b[name]));
}

/**
 * The fields that differ, in the order of the document. Lists of another length and things of another kind differ as a
 * whole, because their fields do not correspond.
 */
export function changesBetween(before: unknown, after: unknown, at: DocumentPath = []): readonly Change[] {
  if (before === after) return [];
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return before.flatMap((each, index) => changesBetween(each, after[index], [...at, index]));
  if (isFields(before) && isFields(after) && before.kind === after.kind) {
    const names = new Set([...Object.keys(before), ...Object.keys(after)]);
    return [...names].flatMap((name) => changesBetween(before[name], after[name], [...at, name]));
  }
  return sameJson(before, after) ? [] : [{ path: at, before, after }];
}
