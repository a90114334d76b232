import fc from 'fast-check';
import { jStat } from 'jstat';
import { linearRegression, linearRegressionLine } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { valueOf } from '../sheet/index.ts';
import {
  factorsOf,
  measuredCounts,
  measuredTravel,
  recognise,
  straightLine,
  studentFactor,
  type TravelPoint,
} from './index.ts';

const must = <T>(value: T | undefined): T => {
  if (value === undefined) throw new Error('nothing came of it');
  return value;
};
const noise = (seed: number) => {
  let state = seed;
  return () => ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5) * 2;
};

describe('straight line, against independent statistics packages', () => {
  const points = fc
    .array(fc.record({ x: fc.integer({ min: -1000, max: 1000 }), y: fc.integer({ min: -1000, max: 1000 }) }), {
      minLength: 4,
      maxLength: 30,
    })
    .filter((each) => new Set(each.map(({ x }) => x)).size > 1);

  it('slope, offset and residuals are those of simple-statistics', () => {
    fc.assert(
      fc.property(points, (each) => {
        const line = must(valueOf(straightLine(each)));
        const other = linearRegression(each.map(({ x, y }) => [x, y]));
        const at = linearRegressionLine(other);
        expect(line.slope).toBeCloseTo(other.m, 6);
        expect(line.offsets.get('')).toBeCloseTo(other.b, 6);
        each.forEach(({ x, y }, k) => expect(line.residuals[k]).toBeCloseTo(y - at(x), 6));
      }),
    );
  });

  it('the uncertainty of slope is that of jStat’s linear model, also with an offset for each of two groups', () => {
    const random = noise(11);
    const made = Array.from({ length: 14 }, (_, k) => ({
      x: 10 * (k % 7),
      y: 1.01 * 10 * (k % 7) + (k < 7 ? 0 : 0.3) + 0.05 * random(),
      group: k < 7 ? 'plus' : 'minus',
    }));
    const line = must(valueOf(straightLine(made)));
    const model = jStat.models.ols(
      made.map(({ y }) => y),
      made.map(({ x, group }) => [x, group === 'plus' ? 1 : 0, group === 'minus' ? 1 : 0]),
    );
    expect(line.slope).toBeCloseTo(must(model.coef[0]), 9);
    expect([line.offsets.get('plus'), line.offsets.get('minus')]).toEqual([
      expect.closeTo(must(model.coef[1]), 9),
      expect.closeTo(must(model.coef[2]), 9),
    ]);
    const half = must(model.t.se[0]) * studentFactor(made.length - 3);
    expect(line.slopeUncertainty / half).toBeCloseTo(1, 4);
  });

  it('Student’s factors are those of jStat to the digits of the table', () => {
    for (let degrees = 1; degrees <= 200; degrees++)
      expect(studentFactor(degrees) / jStat.studentt.inv(0.975, degrees)).toBeCloseTo(1, 3);
    expect(studentFactor(0)).toBe(Infinity);
  });

  it('needs two different places', () => {
    expect(straightLine([])).toMatchObject({ state: 'unknown' });
    expect(
      straightLine([
        { x: 1, y: 1 },
        { x: 1, y: 2 },
      ]),
    ).toMatchObject({ state: 'unknown' });
    // Two ways with one point each: every line through their groups fits.
    expect(
      straightLine([
        { x: 1, y: 1, group: 'a' },
        { x: 5, y: 2, group: 'b' },
      ]),
    ).toMatchObject({ state: 'unknown' });
  });
});

describe('travel against command', () => {
  const series = (scale: number, backlash: number, scatter: number, random = noise(7)): readonly TravelPoint[] => {
    return [0, 100, 200, 300].flatMap((commanded) =>
      (['plus', 'minus'] as const).map((going) => ({
        commanded,
        going,
        measured: 2 + scale * commanded + (going === 'plus' ? -0.5 : 0.5) * backlash + scatter * random(),
      })),
    );
  };
  const factors = factorsOf([{ name: 'gearbox', ratio: 3 }]);

  it('finds scale, offset and backlash, whatever they are', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.99, max: 1.01, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (s, b) => {
          const got = must(valueOf(measuredTravel(series(s, b, 0), 0, factors)));
          expect(got.scale).toBeCloseTo(s, 9);
          expect(got.backlash).toBeCloseTo(b, 9);
          expect(got.offset).toBeCloseTo(2, 9);
        },
      ),
    );
  });

  it('corrects what stands clear of its uncertainty, and refuses what does not', () => {
    const kind = (points: readonly TravelPoint[], gauge = 0) =>
      must(valueOf(measuredTravel(points, gauge, factors))).verdict.kind;
    expect(kind(series(1.001, 0.02, 0.01))).toBe('correct');
    expect(kind(series(1.00002, 0.02, 0.02))).toBe('within noise');
    // 0.3 mm over 300 mm, but the gauge itself may be off by 0.3 mm
    expect(kind(series(1.001, 0.02, 0.01), 0.3)).toBe('within noise');
    expect(kind(series(1.15, 0, 0.01))).toBe('too far off');
    expect(kind(series(-1, 0, 0))).toBe('too far off');
  });

  it('backlash that comes out negative is no reason to correct anything', () => {
    const { verdict, backlash } = must(valueOf(measuredTravel(series(1.005, -0.4, 0.01), 0, factors)));
    expect(backlash).toBeLessThan(-0.3);
    expect(verdict).toMatchObject({
      kind: 'too far off',
      because: expect.stringContaining('the backlash is negative: the directions were'),
    });
  });

  it('a true scale of one is refused nineteen times in twenty', () => {
    const tries = 2000;
    const random = noise(4711);
    const refused = Array.from({ length: tries }, () =>
      must(valueOf(measuredTravel(series(1, 0.05, 0.03, random), 0, factors))),
    ).filter(({ verdict }) => verdict.kind === 'within noise').length;
    expect(refused / tries).toBeGreaterThan(0.93);
    expect(refused / tries).toBeLessThan(0.97);
  });

  it('one point counts from zero, and only with what the gauge may be off', () => {
    const point: TravelPoint = { commanded: 500, measured: 501, going: 'plus' };
    expect(valueOf(measuredTravel([point], 0, factors))?.verdict.kind).toBe('within noise');
    const known = must(valueOf(measuredTravel([point], 0.1, factors)));
    expect(known.scale).toBe(1.002);
    expect(known.uncertainty).toBeCloseTo((Math.SQRT2 * 0.1) / 500, 12);
    expect(known.verdict.kind).toBe('correct');
    expect(measuredTravel([{ ...point, commanded: 0 }], 0.1, factors)).toMatchObject({ state: 'unknown' });
    expect(measuredTravel([], 0, factors)).toMatchObject({ state: 'unknown' });
  });

  it.each([
    [2, 'two'],
    [0.25, 'lines'],
    [10.05, 'decimal'],
    [1 / 25.4, 'inches'],
    [3.01, 'gearbox'],
    [1 / 3, 'left out'],
  ])('a factor of %d is named: %s', (factor, words) => {
    const { verdict } = must(valueOf(measuredTravel(series(factor, 0, 0.001), 0, factors)));
    expect(verdict).toMatchObject({ kind: 'known factor' });
    expect(verdict.kind === 'known factor' && verdict.factor.cause).toContain(words);
  });
  it('what is near none has no name', () => expect(recognise(1.37, factors)).toBeUndefined());
});

describe('counts of a revolution, by hand', () => {
  const measure = (turns: number, counts: number, plate?: number) =>
    must(valueOf(measuredCounts(turns, counts, plate, factorsOf([]))));

  it('finds the encoder though the mark was missed: common practice 1000 lines 4000 counts, 8192 lines 32 768', () => {
    expect(measure(5, 20031).nearest.map(({ name }) => name)).toEqual(['1000 lines']);
    expect(measure(-5, 163900).nearest.map(({ name }) => name)).toEqual(['8192 lines', '15 bits']);
    // 31 counts of 4000 are 2.79° in five turns
    expect(measure(5, 20031).missedBy).toBeCloseTo((31 / 4000) * 360, 6);
    expect(measure(5, 20031).off).toBeCloseTo((31 / 20000) * 1e6, 6);
  });

  it('names an encoder only where one fits, and which way the counts go', () => {
    // 320 000 counts in ten turns: 8000 lines to the last count, not 8192.
    expect(measure(10, 320_000)).toMatchObject({ off: 0, missedBy: 0, direction: 'with the turns' });
    expect(measure(10, 320_000).nearest.map(({ name }) => name)).toEqual(['8000 lines']);
    expect(measure(10, -53_720)).toMatchObject({ nearest: [], off: undefined, direction: 'against the turns' });
    expect(measure(-10, -320_000).direction).toBe('with the turns');
  });

  it('agrees with the plate within a hand’s breadth, or names what is wrong with it', () => {
    expect(measure(5, 20031, 4000)).toMatchObject({ agreesWithPlate: true, factor: undefined });
    const lines = measure(5, 20031, 1000);
    expect(lines.agreesWithPlate).toBe(false);
    expect(lines.factor?.cause).toContain('lines were taken for counts');
    expect(measure(10, 130.2 * 10, 100).factor).toBeUndefined();
  });

  it('says why there is no answer', () => {
    expect(measuredCounts(0, 5, 4000, [])).toMatchObject({ because: 'enter at least one turn of the shaft' });
    expect(measuredCounts(5, 0, 4000, [])).toMatchObject({ state: 'unknown' });
  });
});
