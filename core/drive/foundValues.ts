import type { KeyInRow } from './endValue.ts';

/** A value found at an end, as it was typed or came from a file. */
export type FoundValues = Readonly<Record<string, string>>;

/** Something that is set otherwise than planned. */
export interface EndMismatch {
  readonly code: string;
  readonly label: string;
  readonly found: string;
  readonly planned: string;
  readonly meaning: string;
}

/** Compares what was found with what is to be keyed; codes without a found value are passed over. */
export const mismatches = (rows: readonly KeyInRow[], found: FoundValues): readonly EndMismatch[] =>
  rows.flatMap(({ code, label, key, meaning, step }) => {
    const is = found[code];
    if (
      (step !== 'value' && step !== 'switches') ||
      key === undefined ||
      is === undefined ||
      is.trim() === '' ||
      sameValue(is, key)
    )
      return [];
    return [{ code, label, found: is, planned: key, meaning }];
  });

function sameValue(a: string, b: string): boolean {
  const [x, y] = [readNumber(a), readNumber(b)];
  if (x === undefined || y === undefined) return a.trim().toLowerCase() === b.trim().toLowerCase();
  return Math.abs(x - y) <= 1e-9 * Math.max(Math.abs(x), Math.abs(y));
}

function readNumber(text: string): number | undefined {
  const bare = text.replace(/[\s\u202f]/g, '');
  const fraction = /^(-?[\d.]+)\/([\d.]+)$/.exec(bare);
  const value = fraction ? Number(fraction[1]) / Number(fraction[2]) : Number(bare);
  return bare !== '' && Number.isFinite(value) ? value : undefined;
}

/** What a text told of the values at an end. */
export interface FoundReading {
  readonly found: FoundValues;
  /** Lines that name no code of the list, with their numbers. */
  readonly strange: readonly { readonly line: number; readonly text: string }[];
}

/**
 * Reads values from text: a line each, the code first, then the value after `=`, `:`, `;`, `,`, a tab or spaces. Empty lines and
 * those that begin with `#` are passed over.
 */
export function readFoundValues(text: string, codes: readonly string[]): FoundReading {
  const found: Record<string, string> = {};
  const strange: { line: number; text: string }[] = [];
  const byLength = [...codes].sort((a, b) => b.length - a.length);
  text.split(/\r?\n/).forEach((whole, index) => {
    const line = whole.trim();
    if (line === '' || line.startsWith('#')) return;
    const code = byLength.find(
      (each) => line.toLowerCase().startsWith(each.toLowerCase()) && /^[\s=:;,]/.test(line.slice(each.length)),
    );
    const value = code && line.slice(code.length).replace(/^[\s=:;,]+/, '');
    if (code && value) found[code] = value.slice(0, 60);
    else strange.push({ line: index + 1, text: line.slice(0, 80) });
  });
  return { found, strange };
}
