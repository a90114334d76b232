import { describe, expect, it } from 'vitest';
import { homeOffsetFor, softLimitFor } from './homingForm.ts';

describe('the home offset of a drive', () => {
  it('by the text of CiA 402 is the opposite of what home reads; other drives take it as it is; without a word it is not known', () => {
    // Zero = home + offset, so that home reads −offset.
    expect(homeOffsetFor(3, { homeOffset: 'zero is home plus offset' })).toBe(-3);
    expect(homeOffsetFor(3, { homeOffset: 'home reads the offset' })).toBe(3);
    expect(homeOffsetFor(3, {})).toBeUndefined();
    expect(homeOffsetFor(0, {})).toBe(0);
  });

  it('soft limits count from zero or from home', () => {
    // Home reads 200: a limit at 295 lies 95 from home.
    expect(softLimitFor(295, 200, { softLimitsFrom: 'home' })).toBe(95);
    expect(softLimitFor(295, 200, { softLimitsFrom: 'zero' })).toBe(295);
    expect(softLimitFor(295, 200, {})).toBeUndefined();
    expect(softLimitFor(295, 0, {})).toBe(295);
  });
});
