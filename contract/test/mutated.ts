import fc from 'fast-check';
import { valueAt, withValueAt, type DocumentPath } from '../changes/index.ts';

/** Every leaf and every list of a document, by its path. */
function placesOf(value: unknown, at: DocumentPath = []): readonly DocumentPath[] {
  if (Array.isArray(value)) return [at, ...value.flatMap((each, index) => placesOf(each, [...at, index]))];
  if (typeof value === 'object' && value !== null)
    return Object.entries(value).flatMap(([name, each]) => placesOf(each, [...at, name]));
  return [at];
}

const numbers = [0, -0, 1, -1, 1e-300, 1e-9, 0.5, 2, 90, 1e6, 1e7, 1e9, 2 ** 31, 2 ** 50, null];
const texts = [
  '',
  '0',
  '1',
  '-1',
  '0.5',
  '1/3',
  '2',
  '10',
  '60',
  '100',
  '1000000',
  '1e9',
  '360 deg',
  '10 mm',
  '0.001',
  '01',
  '11',
];

/**
 * Documents with up to three leaves changed for another of their type, some that the schema accepts and some that it does not.
 * A text may become that of another leaf, so that words of choices come about; a list loses or repeats an element.
 */
export const mutated = <T>(documents: readonly T[]): fc.Arbitrary<T> =>
  fc
    .tuple(
      fc.nat(documents.length - 1),
      fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat(), fc.boolean()), { minLength: 1, maxLength: 3 }),
    )
    .map(([which, changes]) => {
      let document = documents[which] as T;
      for (const [where, what, other, flag] of changes) {
        const places = placesOf(document);
        const path = places[where % places.length] as DocumentPath;
        const value = valueAt(document, path);
        document = withValueAt(document, path, replaced(value, document, places, what, other, flag));
      }
      return document;
    });

function replaced(
  value: unknown,
  document: unknown,
  places: readonly DocumentPath[],
  what: number,
  other: number,
  flag: boolean,
): unknown {
  if (Array.isArray(value)) {
    if (value.length === 0) return value;
    const index = what % value.length;
    return flag ? value.filter((_, k) => k !== index) : [...(value as readonly unknown[]), value[index]];
  }
  const alike = places.map((path) => valueAt(document, path)).filter((each) => typeof each === typeof value);
  if (flag && alike.length > 0) return alike[other % alike.length];
  switch (typeof value) {
    case 'string':
      return texts[what % texts.length];
    case 'boolean':
      return !value;
    default:
      return numbers[what % numbers.length];
  }
}
