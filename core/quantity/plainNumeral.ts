/** How somebody's locale writes decimals. */
export type DecimalMark = '.' | ',';

export type Numeral =
  /** `wasAmbiguous`: it was read as the locale writes it, and is to be shown as it was read. */
  | { readonly kind: 'plain'; readonly text: string; readonly wasAmbiguous: boolean }
  | { readonly kind: 'ambiguous'; readonly readings: readonly [string, string] }
  | { readonly kind: 'not a number' };

const spaces = /[ \u00a0\u2009\u202f'’]/g;
const spacedGroups = /^\d{1,3}(?:[ \u00a0\u2009\u202f'’]\d{3})+(?:[.,]\d*)?$/;

/**
 * Reads digits with separators as plain digits with a decimal point. Thousands may be grouped by spaces, as they are shown
 * here, or by apostrophes. A point always may be a decimal one; a comma before three digits is one only in a locale that
 * writes it so. `1.000` in such a locale, and `1,000` without any, could be read two ways.
 * @param mark of the reader's locale; undefined: none
 */
export function plainNumeral(text: string, mark: DecimalMark | undefined): Numeral {
  const plain = (digits: string, wasAmbiguous = false): Numeral => ({ kind: 'plain', text: digits, wasAmbiguous });
  const given = text.trim();
  const isGrouped = spacedGroups.test(given);
  const digits = isGrouped ? given.replace(spaces, '') : given;
  if (!/^[\d.,]+$/.test(digits)) return { kind: 'not a number' };
  const separators = digits.replace(/\d/g, '');
  switch (separators.length) {
    case 0:
      return plain(digits);
    case 1: {
      const [whole = '', decimals = ''] = digits.split(/[.,]/);
      const asDecimal = `${whole}.${decimals}`;
      const couldGroup = !isGrouped && /^[1-9]\d{0,2}$/.test(whole) && decimals.length === 3;
      if (!couldGroup) return plain(asDecimal);
      if (separators === '.') return mark === ',' ? ambiguous(asDecimal, whole + decimals) : plain(asDecimal);
      if (mark === undefined) return ambiguous(asDecimal, whole + decimals);
      return plain(mark === ',' ? asDecimal : whole + decimals, true);
    }
    default: {
      const last = separators.at(-1) ?? '';
      const isMixed = separators.includes(last === '.' ? ',' : '.');
      const [head, tail] = isMixed
        ? [digits.slice(0, digits.lastIndexOf(last)), digits.slice(digits.lastIndexOf(last) + 1)]
        : [digits, ''];
      const group = isMixed ? (last === '.' ? ',' : '.') : last;
      if (!head.split(group).every((part, k) => (k === 0 ? /^\d{1,3}$/ : /^\d{3}$/).test(part)))
        return { kind: 'not a number' };
      return plain(head.split(group).join('') + (tail === '' ? '' : `.${tail}`));
    }
  }
}

const ambiguous = (...readings: [string, string]): Numeral => ({ kind: 'ambiguous', readings });
