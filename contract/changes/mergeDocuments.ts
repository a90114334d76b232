import { changesBetween, sameJson } from './changesBetween.ts';
import { overlap, pointerOf, valueAt, withValueAt, type DocumentPath } from './documentPath.ts';

/** A field edited by two people, each in another way. */
export interface Conflict {
  readonly path: DocumentPath;
  readonly base: unknown;
  readonly mine: unknown;
  readonly theirs: unknown;
}

/** What both edits together give: theirs, with mine on it wherever they did not touch the same field. */
export interface Merge<T> {
  readonly document: T;
  readonly conflicts: readonly Conflict[];
}

/**
 * Joins two edits of one document. Edits of different fields are both kept; where both touched the same field, or one
 * replaced what the other edited inside, theirs stands in the result and the field is listed as a conflict.
 * @param base the state that both began from
 */
export function mergeDocuments<T>(base: T, mine: T, theirs: T): Merge<T> {
  const theirChanges = changesBetween(base, theirs);
  const conflicts = new Map<string, Conflict>();
  let document = theirs;
  for (const change of changesBetween(base, mine)) {
    const clashes = theirChanges.filter((each) => overlap(each.path, change.path));
    if (clashes.length === 0) {
      document = withValueAt(document, change.path, change.after);
      continue;
    }
    const path = clashes.reduce((least, each) => (each.path.length < least.length ? each.path : least), change.path);
    const [was, my, their] = [base, mine, theirs].map((each) => valueAt(each, path));
    if (!sameJson(my, their)) conflicts.set(pointerOf(path), { path, base: was, mine: my, theirs: their });
  }
  return { document, conflicts: [...conflicts.values()] };
}
