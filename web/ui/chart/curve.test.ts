import { describe, expect, it } from 'vitest';
import { curvePath, extentOf } from './curve.ts';

describe('a curve', () => {
  it('has a gap where samples are missing, and an extent without them', () => {
    const points = Float64Array.of(0, 0, 1, 10, 2, NaN, 3, 5, 4, 10);
    const plot = { x: 0, y: 0, width: 40, height: 100, xRange: [0, 4], yRange: [0, 10] } as const;
    const curve = { points, colour: 'red' };
    expect(curvePath(curve, plot)).toBe('M0.0 100.0L10.0 0.0M30.0 50.0L40.0 0.0');
    expect(extentOf([curve])).toEqual([0, 10]);
  });
});
