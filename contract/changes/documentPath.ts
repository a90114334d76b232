/** Where a value stands in a document: names of fields and indices of lists. */
export type DocumentPath = readonly (string | number)[];

/** Every path of a document that leads to a value of a type: `PathTo<AxisDocument, string>`. */
export type PathTo<Document, Value = unknown> = Document extends readonly (infer Entry)[]
  ? Step<number, Entry, Value>
  : Document extends object
    ? { [Key in keyof Document & string]: Step<Key, Document[Key], Value> }[keyof Document & string]
    : never;

type Step<Key extends string | number, Inner, Value> =
  | ([Inner] extends [Value] ? readonly [Key] : never)
  | (PathTo<Inner, Value> extends infer Rest extends DocumentPath ? readonly [Key, ...Rest] : never);

/** What stands at a path of a document, of any of its kinds that has it. */
export type ValueAt<Document, Path extends DocumentPath> = Path extends readonly [infer Key, ...infer Rest]
  ? Rest extends DocumentPath
    ? ValueAt<Child<Document, Key>, Rest>
    : never
  : Document;

/** The same, to be read only. */
export type Frozen<T> = T extends object ? { readonly [Key in keyof T]: Frozen<T[Key]> } : T;

type Child<Document, Key> = Document extends readonly (infer Entry)[]
  ? Key extends number
    ? Entry
    : never
  : Key extends keyof Document
    ? Document[Key]
    : never;

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
