import { patternsOf } from '@kavrid/core/signal';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitted } from './ChoiceInputFields.tsx';

describe('patterns for another number of inputs', () => {
  const rows = (inputs: number) => patternsOf(inputs).map((pattern) => ({ pattern, name: `move ${pattern}` }));

  it('stay each for itself, as long as wanted, and lose only what needs an input that is gone', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 }), (before, after) => {
        const kept = fitted(rows(before), after);
        expect(kept.every(({ pattern }) => pattern.length === after)).toBe(true);
        expect(new Set(kept.map(({ pattern }) => pattern)).size).toBe(kept.length);
        expect(kept).toHaveLength(2 ** Math.min(before, after));
        // Going up and down again loses nothing.
        if (after >= before) expect(fitted(kept, before)).toEqual(rows(before));
      }),
    );
  });
});
