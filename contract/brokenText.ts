/** Half of a pair of UTF-16 code units: no character, and nothing that a database or a file can keep. */
const half = /\p{Surrogate}/u;

/** Levels that are looked into; what is nested deeper is no document, and is refused as such. */
const deepest = 100;

/** Where a value has text with half a character in it, as a JSON pointer; undefined: nowhere. */
export function brokenText(value: unknown, pointer = '', depth = 0): string | undefined {
  if (typeof value === 'string') return half.test(value) ? pointer || '/' : undefined;
  if (typeof value !== 'object' || value === null || depth > deepest) return undefined;
  for (const [key, each] of Object.entries(value)) {
    if (half.test(key)) return `${pointer}/`;
    const found = brokenText(each, `${pointer}/${key}`, depth + 1);
    if (found !== undefined) return found;
  }
  return undefined;
}

export const brokenTextWords = 'The text contains an incomplete character (half of a symbol). Retype it.';
