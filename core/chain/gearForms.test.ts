import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { exact, exactToText, rational, rationalToText, toNumber, toRational } from '../quantity/index.ts';
import { known, valueOf } from '../sheet/index.ts';
import { carriage } from '../test/sampleAxis.ts';
import {
  evaluateAxis,
  expressibleRatios,
  gearChoices,
  gearForPulses,
  gearSetResults,
  gearWays,
  keyedGear,
  nearestRatio,
  resolutionChoices,
  type AxisInput,
} from './index.ts';

const switchTable = [400, 800, 1600, 2000, 4000, 10000].map((pulses, k) => ({
  switches: `position ${k}`,
  pulses: known(exact(pulses)),
}));
/** 1000 lines on a 10 mm screw, 5 µm a pulse wanted: 2000 pulses a revolution, a ratio of 2. */
const lift: AxisInput = {
  ...carriage,
  encoderCycles: known(exact(1000)),
  countsPerCycle: known(exact(4)),
  stages: [
    {
      kind: 'screw',
      thread: 'rolling',
      lead: known(exact(10)),
      starts: known(exact(1)),
      leftHand: false,
      rootDiameter: known(13),
      freeLength: known(340),
      bearings: 'fixed and supported',
      reverses: false,
      efficiency: known(0.9),
      inertia: known(0),
      backlash: known(0),
      speedLimit: undefined,
    },
  ],
  wantedResolution: known(exact(1, 200)),
  ratioForm: 'switch table',
  switchTable,
};
const waysOf = (input: AxisInput) => {
  const ways = gearWays(input, evaluateAxis(input));
  if (!ways) throw new Error('the ways are not known');
  return ways;
};
const keyed = (input: Partial<AxisInput>, numerator: number, denominator: number) =>
  keyedGear({ ...lift, ...input }, exact(4000), exact(numerator), exact(denominator));

describe('what is keyed in for a ratio, by hand', () => {
  it('N and D, or the other way round where the manual writes so', () => {
    const form = { ratioForm: 'numerator and denominator' } as const;
    expect(keyed(form, 12, 5)).toEqual({ kind: 'ratio', above: 12n, below: 5n });
    expect(keyed({ ...form, ratioInverted: true }, 12, 5)).toEqual({ kind: 'ratio', above: 5n, below: 12n });
  });

  it('pulses per revolution: 4000 counts at 2 counts a pulse are 2000; at 3 they are not whole', () => {
    const form = { ratioForm: 'pulses per revolution' } as const;
    expect(keyed(form, 2, 1)).toEqual({ kind: 'pulsesPerRevolution', pulses: exact(2000) });
    expect(keyed(form, 3, 1)).toMatchObject({ kind: 'impossible' });
  });

  it('switches, and what no position gives', () => {
    expect(keyed({}, 2, 1)).toMatchObject({ kind: 'switches', switches: 'position 3' });
    expect(keyed({}, 4, 3)).toMatchObject({ kind: 'impossible' });
  });

  it('a multiplier of pulses, or of counts', () => {
    expect(keyed({ ratioForm: 'multiplier' }, 8, 1)).toEqual({ kind: 'multiplier', multiplier: exact(8) });
    expect(keyed({ ratioForm: 'multiplier', ratioInverted: true }, 1, 8)).toEqual({
      kind: 'multiplier',
      multiplier: exact(8),
    });
    expect(keyed({ ratioForm: 'multiplier' }, 5, 2)).toMatchObject({ kind: 'impossible' });
  });

  it('a ratio made from pulses gives those pulses back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 1e6 }), (counts, pulses) => {
        const ratio = gearForPulses(exact(counts), exact(pulses));
        const back = keyedGear(
          { ...lift, ratioForm: 'pulses per revolution' },
          exact(counts),
          exact(ratio.numerator),
          exact(ratio.denominator),
        );
        expect(back).toEqual({ kind: 'pulsesPerRevolution', pulses: exact(pulses) });
      }),
    );
  });
});

describe('further ratios', () => {
  it('a fifth of the ratio makes a pulse a fifth as long: by hand 2 µm of 10 µm, 500 pulses/mm of 100', () => {
    const input: AxisInput = {
      ...carriage,
      gearSets: [{ numerator: known(exact(12288)), denominator: known(exact(625)) }],
    };
    const [set] = gearSetResults(input, evaluateAxis(input)).map(valueOf);
    expect(set).toEqual({ stepsPerUnit: exact(500), resolution: exact(1, 500), timesAsFar: exact(1, 5) });
  });
});

describe('ratios to choose between', () => {
  it('a switch table offers its own positions, nearest first; one that fits exactly leads', () => {
    const choices = gearChoices(evaluateAxis(lift), waysOf(lift));
    expect(choices[0]).toMatchObject({ ppm: 0, pulsesPerRevolution: 2000, stepsPerUnit: 200 });
    // 200 kHz at 200 pulses/mm
    expect(choices[0]?.highestSpeed).toBe(500);
    expect(choices[0]?.binding).toContain('motor speed');
    // 1600 pulses make 6.25 µm: 25 % more travel a pulse.
    expect(choices[1]).toMatchObject({ pulsesPerRevolution: 1600, ppm: 250000 });
    expect(resolutionChoices(evaluateAxis(lift), waysOf(lift)).map((choice) => choice.pulsesPerRevolution)).toEqual([
      10000, 4000, 2000, 1600, 800, 400,
    ]);
  });

  it('whole pulses per revolution are the nearest ones by brute force', () => {
    const ways = { ...waysOf(lift), form: 'pulses per revolution' } as const;
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4000 }), fc.integer({ min: 1, max: 8 }), (n, d) => {
        const target = rational(n, d);
        const best = nearestRatio(ways, target);
        const errors = Array.from({ length: 40000 }, (_, k) => Math.abs((4000 / (k + 1)) * (d / n) - 1));
        const possible = errors.filter((_, k) => 4000 / (k + 1) >= 1 / 1000 && 4000 / (k + 1) <= 64000);
        if (best) expect(Math.abs(best.ppm)).toBeCloseTo(Math.min(...possible) * 1e6, 3);
      }),
      { numRuns: 25 },
    );
  });

  it('a multiplier offers whole numbers around the wanted one', () => {
    const ways = { ...waysOf(lift), form: 'multiplier' } as const;
    const texts = expressibleRatios(ways, rational(27, 10), 3).map(({ fraction }) => rationalToText(fraction));
    expect(texts).toEqual(['3', '2', '1']);
    const inverted = expressibleRatios({ ...ways, ratioInverted: true }, rational(10, 27), 3);
    expect(inverted.map(({ fraction }) => rationalToText(fraction))).toEqual(['1/3', '1/2', '1']);
  });

  it('every choice says what follows: steps, error, drift and the limit that binds', () => {
    const results = evaluateAxis(carriage);
    const [best, next] = gearChoices(results, waysOf(carriage));
    expect(best && exactToText(best.resolution)).toBe('1/100');
    expect(best).toMatchObject({ ppm: 0, stepsPerUnit: 100, drift: 0, highestSpeed: 2000 });
    // Adopting the next one and asking the sheet agrees with what the table promised.
    if (!next) throw new Error('there is only one');
    const adopted = evaluateAxis({
      ...carriage,
      gearNumerator: known(exact(next.fraction.numerator)),
      gearDenominator: known(exact(next.fraction.denominator)),
    });
    expect(toNumber(valueOf(adopted.stepsPerUnit) ?? exact(0))).toBeCloseTo(next.stepsPerUnit, 9);
    expect(valueOf(adopted.highestSpeed)).toBeCloseTo(next.highestSpeed, 9);
    expect(valueOf(adopted.bindingLimits)).toEqual(next.binding);
    expect(valueOf(adopted.ratioError)).toBeCloseTo(next.ppm, 6);
    expect(valueOf(adopted.driftOverTravel)).toBeCloseTo(next.drift ?? NaN, 9);
    expect(toRational(valueOf(adopted.wantedRatio) ?? exact(0))).toEqual(rational(12288, 125));
  });
});
