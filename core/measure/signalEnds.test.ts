import { describe, expect, it } from 'vitest';
import { parkMiller } from '../test/stiffLoops.ts';
import { factorsOf, judgeSignalEnds } from './index.ts';

const path = { unit: 'deg', factors: factorsOf([{ name: 'gearbox', ratio: 5 }]), isOneWay: false };
/** Plus, zero and minus for a second each with ramps between, as measured: scaled, offset, with some noise. */
const measured = (scale: number, offset = 0, clip = Infinity) => {
  const random = parkMiller(7);
  const wanted = (t: number) =>
    t < 0.5
      ? 0
      : t < 0.7
        ? (t - 0.5) * 450
        : t < 1.7
          ? 90
          : t < 1.9
            ? 90 - (t - 1.7) * 450
            : t < 2.9
              ? 0
              : t < 3.1
                ? (2.9 - t) * 450
                : t < 4.1
                  ? -90
                  : 0;
  return Float64Array.from(
    { length: 4600 },
    (_, k) => Math.min(clip, wanted(k / 1000) * scale + offset) + 8 * (scale || 0.01) * (random() - 0.5),
  );
};
const causes = (speeds: Float64Array) => judgeSignalEnds(speeds, 0.001, 90, path).faults.map(({ cause }) => cause);

describe('both ends and the zero of a speed signal', () => {
  it('of a signal that goes one way are its full value and its zero', () => {
    const ends = judgeSignalEnds(measured(1).subarray(0, 2900), 0.001, 90, { ...path, isOneWay: true });
    expect(ends).toMatchObject({ isOneWay: true, minus: undefined, faults: [] });
    expect(ends.plus).toBeCloseTo(90, 0);
    expect(ends.ratio).toBeCloseTo(1, 2);
  });

  it('are measured, and sound ones have no fault', () => {
    const ends = judgeSignalEnds(measured(1), 0.001, 90, path);
    expect(ends.faults).toEqual([]);
    expect(ends.plus).toBeCloseTo(90, 0);
    expect(ends.minus).toBeCloseTo(-90, 0);
    expect(ends.zero).toBeCloseTo(0, 0);
  });

  it.each([
    [-1, 0, Infinity, ['inverted']],
    [2, 0, Infinity, ['known factor']],
    [0.2, 0, Infinity, ['known factor']],
    [1.1, 0, Infinity, ['scale off']],
    [1, 1.5, Infinity, ['one end off', 'offset']],
    [1, 0, 80, ['scale off', 'one end off']],
    [0, 0, Infinity, ['nothing arrived']],
  ] as const)('scaled by %d, offset %d, clipped at %d: %j', (scale, offset, clip, expected) => {
    expect(causes(measured(scale, offset, clip))).toEqual(expected);
  });

  it('names a gearbox that is left out', () => {
    const [fault] = judgeSignalEnds(measured(0.2), 0.001, 90, path).faults;
    expect(fault?.words).toContain('the ratio of the gearbox is left out');
  });

  it('asks for longer moves where no speed is held', () => {
    const swinging = Float64Array.from({ length: 3000 }, (_, k) => 90 * Math.sin(k / 50));
    expect(causes(swinging)).toEqual(['not held']);
  });
});
