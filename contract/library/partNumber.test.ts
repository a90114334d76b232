import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { matchesPartNumber } from './partNumber.ts';

describe('part numbers', () => {
  it.each([
    ['GC-A04-?-B*', 'GC-A04-2-B10', true],
    ['GC-A04-?-B*', 'gc a04 2b', true],
    ['GC-A04-?-B*', 'GC-A04-22-B', false],
    ['GC-A04-?-B*', 'GC-A05-2-B', false],
    // The beginning of one, as it is typed.
    ['GC-A04-?-B*', 'GC-A', true],
    ['GC-A04', 'GC-A04-X', false],
    ['GC-A04, GC-B*', 'GC-B77', true],
    ['*-K', 'anything-K', true],
    ['', 'GC', false],
    ['GC', '', false],
  ])('“%s” and %s: %s', (patterns, typed, is) => expect(matchesPartNumber(patterns, typed)).toBe(is));

  it('agree with a regular expression made of the pattern', () => {
    const text = fc.array(fc.constantFrom('A', 'B', '1'), { maxLength: 8 }).map((each) => each.join(''));
    const pattern = fc.array(fc.constantFrom('A', 'B', '1', '?', '*'), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(pattern, text, (places, wanted) => {
        if (wanted === '') return;
        // Beginnings: what is wanted, and then anything, such that the whole fits.
        const parts = places.map((place) => (place === '*' ? '.*' : place === '?' ? '.' : place));
        const beginnings = parts.map((_, k) => parts.slice(0, k + 1).join(''));
        const is = beginnings.some((each) => new RegExp(`^${each}$`).test(wanted));
        expect(matchesPartNumber(places.join(''), wanted)).toBe(is);
      }),
      { seed: 7 },
    );
  });
});
