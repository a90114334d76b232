import { describe, expect, it } from 'vitest';
import {
  compareRational,
  exact,
  exactToText,
  parseRational,
  rational,
  rationalToText,
  toNumber,
  type Rational,
} from '../quantity/index.ts';
import { known, unknown, valueOf, workingOf } from '../sheet/index.ts';
import { carriage } from '../test/sampleAxis.ts';
import {
  axisSheets,
  bestFraction,
  evaluateAxis,
  gearCandidates,
  loadSign,
  probe,
  gearWays,
  resolutionChoices,
  stationsOf,
  type AxisInput,
  type GearLimits,
} from './index.ts';

const wide: GearLimits = {
  numeratorMax: 10n ** 30n,
  denominatorMax: 10n ** 30n,
  ratioMin: rational(1, 10 ** 9),
  ratioMax: rational(10 ** 9),
};
const text = (value: Rational | undefined) => (value ? rationalToText(value) : 'none');
const read = (value: string) => parseRational(value) ?? rational(1);

describe('bestFraction', () => {
  // Golden values of Python 3.11 fractions.Fraction.limit_denominator; π to 50 decimals.
  const pi = '314159265358979323846264338327950288419716939937510/100000000000000000000000000000000000000000000000000';
  it.each([
    [pi, 10, '22/7'],
    [pi, 100, '311/99'],
    [pi, 1000, '355/113'],
    [pi, 65535, '104348/33215'],
    ['126727355/162832192', 10, '7/9'],
    ['774400756/425264299', 65535, '16937/9301'],
    ['33280043/19348881', 10, '12/7'],
    ['21278533/431205070', 1000000, '45156/915077'],
    ['985646723/310714843', 10, '19/6'],
    ['119146782/279355019', 1000000, '1564/3667'],
    ['386810029/297085727', 999, '194/149'],
    ['887846707/114013444', 32767, '106311/13652'],
    ['230210707/995869379', 10, '2/9'],
    ['890046124/687934189', 32767, '41809/32315'],
  ])('%s with a denominator up to %i is %s', (target, most, want) => {
    expect(text(bestFraction(read(target), { ...wide, denominatorMax: BigInt(most) }))).toBe(want);
  });

  it('is the best of all, by brute force over small limits', () => {
    let state = 12345;
    const next = (below: number) => (state = (state * 48271) % 2147483647) % below;
    for (let k = 0; k < 400; k++) {
      const target = rational(next(4000) + 1, next(4000) + 1);
      const [N, D] = [next(24) + 1, next(24) + 1];
      const limits: GearLimits = {
        numeratorMax: BigInt(N),
        denominatorMax: BigInt(D),
        ratioMin: rational(1, next(6) + 1),
        ratioMax: rational(next(9) + 1, 1),
      };
      let nearest: { value: Rational; gap: Rational } | undefined;
      for (let n = 1; n <= N; n++) {
        for (let d = 1; d <= D; d++) {
          const value = rational(n, d);
          if (compareRational(value, limits.ratioMin) < 0 || compareRational(value, limits.ratioMax) > 0) continue;
          const cross = value.numerator * target.denominator - target.numerator * value.denominator;
          const gap = rational(cross < 0n ? -cross : cross, value.denominator * target.denominator);
          if (!nearest || compareRational(gap, nearest.gap) < 0) nearest = { value, gap };
        }
      }
      const found = bestFraction(target, limits);
      expect(found === undefined).toBe(nearest === undefined);
      if (!found || !nearest) continue;
      const cross = found.numerator * target.denominator - target.numerator * found.denominator;
      const gap = rational(cross < 0n ? -cross : cross, found.denominator * target.denominator);
      expect(
        compareRational(gap, nearest.gap),
        `${text(target)} in ${N}/${D}: ${text(found)} or ${text(nearest.value)}`,
      ).toBe(0);
    }
  });

  it('lists simpler fractions with their errors, the exact one first', () => {
    const list = gearCandidates(rational(12288, 125), { ...wide, numeratorMax: 32767n, denominatorMax: 32767n });
    expect(text(list[0]?.fraction)).toBe('12288/125');
    expect(list[0]?.ppm).toBe(0);
    expect(list.length).toBeGreaterThan(4);
    // By hand: 98/1 against 98.304 is (98/98.304 − 1)·10⁶ = −3092.4479… ppm
    expect(list.find((c) => text(c.fraction) === '98')?.ppm).toBeCloseTo(-3092.447917, 5);
    expect(
      gearCandidates(rational(12288, 125), { ...wide, numeratorMax: 4096n })[0]?.fraction.numerator,
    ).toBeLessThanOrEqual(4096n);
  });
});

const value = (input: AxisInput, symbol: keyof ReturnType<typeof evaluateAxis>) => {
  const outcome = valueOf(evaluateAxis(input)[symbol] as never);
  return typeof outcome === 'number' ? outcome : toNumber(outcome as never);
};
const screwAxis = (lead: ReturnType<typeof exact>, extra: Partial<AxisInput> = {}): AxisInput => ({
  ...carriage,
  stages: [
    {
      kind: 'screw',
      thread: 'rolling',
      lead: known(lead),
      starts: known(exact(1)),
      leftHand: false,
      rootDiameter: unknown('not given'),
      freeLength: unknown('not given'),
      bearings: 'fixed and supported',
      reverses: false,
      efficiency: known(0.9),
      inertia: known(1e-5),
      backlash: known(0),
      speedLimit: undefined,
    },
  ],
  ...extra,
});

describe('axis sheet: common practice, no source', () => {
  it('2500 lines give 10 000 counts and 8192 lines give 32 768', () => {
    const lines = (count: number) =>
      value(
        { ...carriage, encoderCycles: known(exact(count)), countsPerCycle: known(exact(4)) },
        'countsPerRevolution',
      );
    expect([lines(8192), lines(1000)]).toEqual([32768, 4000]);
  });

  it('2²⁴ counts to 100 000 pulses is a ratio of 167.772 16', () => {
    const axis = screwAxis(exact(10), {
      encoderCycles: known(exact(2 ** 24)),
      wantedResolution: known(exact(10, 100000)),
    });
    expect(exactToText(valueOf(evaluateAxis(axis).wantedRatio) ?? exact(0))).toBe('524288/3125');
    expect(524288 / 3125).toBe(167.77216);
  });

  it('100 kHz into 100 000 pulses per revolution is 60 rpm, 10 kHz is 6', () => {
    const axis = (rate: number) =>
      screwAxis(exact(1), {
        encoderCycles: known(exact(2 ** 24)),
        gearNumerator: known(exact(524288)),
        gearDenominator: known(exact(3125)),
        controllerPulseRate: known(rate),
      });
    expect(value(axis(100000), 'highestSpeed') * 60).toBeCloseTo(60, 12);
    expect(value(axis(10000), 'highestSpeed') * 60).toBeCloseTo(6, 12);
  });

  it('100 000 pulses into 10 000 per revolution on a 5 mm screw is 50 mm', () => {
    const axis = screwAxis(exact(5), {
      encoderCycles: known(exact(10000)),
      gearNumerator: known(exact(1)),
      gearDenominator: known(exact(1)),
    });
    const stations = stationsOf(axis, evaluateAxis(axis));
    expect(probe(stations, 'controller', exact(100000)).load).toEqual(known(exact(50)));
  });

  it('a signed 32-bit counter at 2²⁰ counts wraps after 2048 turns, 41 s at 3000 rpm', () => {
    expect(value(carriage, 'turnsToWrap')).toBe(2048);
    expect(value(carriage, 'timeToWrap')).toBeCloseTo(40.96, 10);
  });
});

describe('axis sheet', () => {
  it('at 10 µm a pulse the carriage needs exactly 12288/125', () => {
    const results = evaluateAxis(carriage);
    expect(exactToText(valueOf(results.wantedRatio) ?? exact(0))).toBe('12288/125');
    expect(valueOf(results.stepsPerUnit)).toEqual(exact(100));
    // By hand: 320 mm × 100 pulses/mm ÷ 3 turns
    expect(exactToText(valueOf(results.pulsesPerRevolution) ?? exact(0))).toBe('32000/3');
    expect(valueOf(results.ratioError)).toBe(0);
    // By hand: 200 kHz / 100 = 2000; 3000 rpm × 320 / 180 = 5333.3
    expect(valueOf(results.highestSpeed)).toBeCloseTo(2000, 9);
    expect(valueOf(results.bindingLimits)).toEqual(['controller pulse rate']);
    expect(workingOf(axisSheets.pulses, results, 'stepsPerUnit')).toMatchObject({
      expression: 'P · i / L',
      result: '100',
    });
  });

  it('an inch stays exact: a 0.2 in screw has 127/25 mm lead', () => {
    const results = evaluateAxis(screwAxis(exact(508, 100), { wantedResolution: known(exact(254, 100000)) }));
    // By hand: 2^20 · 0.00254 / 5.08 = 2^20 / 2000
    expect(exactToText(valueOf(results.wantedRatio) ?? exact(0))).toBe('65536/125');
  });

  it('names every limit of a tie', () => {
    const results = evaluateAxis({ ...carriage, driveInputRate: known(200000) });
    expect(valueOf(results.bindingLimits)).toEqual(['controller pulse rate', 'drive input rate']);
  });

  it('reflects inertia as the handbook does', () => {
    // m·(L/2π)²/i² = 8·(0.32/2π)²/9, gearbox 2e-5 at the motor, pulley 1e-3/9
    const want = (8 * (0.32 / (2 * Math.PI)) ** 2) / 9 + 2e-5 + 1e-3 / 9;
    expect(value(carriage, 'reflectedInertia')).toBeCloseTo(want, 12);
  });

  it('a worm table in degrees, and a load of the wrong kind', () => {
    const worm: AxisInput = {
      ...carriage,
      motionKind: 'rotary',
      axisUnit: 'deg',
      stages: [
        {
          kind: 'worm',
          backDriveEfficiency: undefined,
          starts: known(exact(1)),
          wheelTeeth: known(exact(72)),
          reverses: true,
          efficiency: known(0.6),
          inertia: known(0),
          backlash: known(0),
          speedLimit: undefined,
        },
      ],
    };
    expect(value(worm, 'transmissionRatio')).toBe(72);
    // By hand: 360 / (2^20 · 72)
    expect(value(worm, 'feedbackResolution')).toBe(360 / (2 ** 20 * 72));
    expect(evaluateAxis({ ...worm, motionKind: 'linear' }).travelPerTurn.state).toBe('unknown');
  });

  it('says which field is missing wherever it is needed', () => {
    const results = evaluateAxis(
      screwAxis(exact(5), { gearNumerator: unknown('the numerator is empty', '/gear/numerator') }),
    );
    expect(results.highestSpeed).toMatchObject({ state: 'unknown', path: '/gear/numerator' });
    expect(results.feedbackResolution.state).toBe('known');
  });
});

describe('direction', () => {
  it('multiplies inversions along the chain, and a probe keeps its sign', () => {
    for (let pattern = 0; pattern < 16; pattern++) {
      const bit = (k: number) => Boolean(pattern & (1 << k));
      const axis: AxisInput = {
        ...carriage,
        commandInverted: bit(0),
        plusIsClockwise: bit(1),
        stages: carriage.stages.map((stage, index) => ({ ...stage, reverses: bit(2 + index) })),
      };
      const stations = stationsOf(axis, evaluateAxis(axis));
      const odd = [0, 1, 2, 3].filter(bit).length % 2 === 1;
      expect(loadSign(stations)).toBe(odd ? -1 : 1);
      const at = probe(stations, 'load', exact(10));
      expect(at.load).toEqual(known(exact(10)));
      // Round trip from any station back to the load.
      expect(probe(stations, 'motor', valueOf(at.motor ?? unknown('')) ?? exact(0)).load).toEqual(known(exact(10)));
    }
  });
});

describe('resolutionChoices', () => {
  it('runs from the finest useful step to where the motor binds, trading speed', () => {
    const results = evaluateAxis(carriage);
    const ways = gearWays(carriage, results);
    if (!ways) throw new Error('the ways are not known');
    const choices = resolutionChoices(results, ways);
    expect(choices.length).toBeGreaterThan(8);
    const ten = choices.find((c) => exactToText(c.resolution) === '1/100');
    expect(ten?.highestSpeed).toBeCloseTo(2000, 6);
    expect(choices.at(-1)?.binding).toContain('motor speed');
    for (let k = 1; k < choices.length; k++)
      expect(choices[k]?.highestSpeed).toBeGreaterThan(choices[k - 1]?.highestSpeed ?? 0);
  });
});
