/** Where a value stands in a document: names of fields and indices of lists. */
export type DocumentPath = readonly (string | number)[];

type Container = Readonly<Record<string | number, unknown>>;
const isContainer = (value: unknown): value is Container => typeof value === 'object' && value !== null;

/** The value at a path; undefined where the path leads nowhere. */
export const valueAt = (document: unknown, path: DocumentPath): unknown =>
  path.reduce<unknown>((at, key) => (isContainer(at) ? at[key] : undefined), document);

/** A copy with another value at the path; what is not on the path is shared. A path that leads nowhere changes nothing. */
export function withValueAt<T>(document: T, path: DocumentPath, value: unknown): T {
  const [key, ...rest] = path;
  if (key === undefined) return value as T;
  if (!isContainer(document) || (rest.length > 0 && !(key in document))) return document;
  const inner = withValueAt(document[key], rest, value);
  if (inner === document[key] && key in document) return document;
  const copy: unknown = Array.isArray(document) ? [...(document as readonly unknown[])] : { ...document };
  (copy as Record<string | number, unknown>)[key] = inner;
  return copy as T;
}

/** RFC 6901 JSON pointer. */
export const pointerOf = (path: DocumentPath): string =>
  path.map((part) => `/${String(part).replace(/~/g, '~0').replace(/\//g, '~1')}`).join('');

/** The path of a JSON pointer; digits are taken for indices of lists. */
export const pathOf = (pointer: string): DocumentPath =>
  pointer
    .slice(1)
    .split('/')
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part.replace(/~1/g, '/').replace(/~0/g, '~')));

/** Whether one of two paths leads into what the other names, or both name the same. */
export const overlap = (a: DocumentPath, b: DocumentPath): boolean => {
  const length = Math.min(a.length, b.length);
  for (let k = 0; k < length; k++) if (a[k] !== b[k]) return false;
  return true;
};
