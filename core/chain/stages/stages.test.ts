import { describe, expect, it } from 'vitest';
import { cosineOf, exact, multiply, toNumber, toRational, type Exact } from '../../quantity/index.ts';
import { known, unknown, valueOf } from '../../sheet/index.ts';
import { carriage } from '../../test/sampleAxis.ts';
import { evaluateAxis, stationsOf, type AxisInput } from '../index.ts';
import { ratioOf, travelFactorsOf, travelKinds, turningKinds, type Stage } from './stage.ts';

const base = { reverses: false, efficiency: known(0.9), inertia: known(0) } as const;
const mm = (numerator: number, denominator = 1) => known(exact(numerator, denominator));
const degrees = (numerator: number, denominator = 1) => known(exact(numerator, denominator));
const travel = (stage: Stage): Exact => {
  const factors = travelFactorsOf(stage);
  const value = factors && valueOf(factors);
  if (!value) throw new Error('this stage gives no travel');
  return multiply(...value);
};

describe('stages that give travel', () => {
  it('a straight rack moves π · module · teeth: module 2, 20 teeth, 125.664 mm (ISO 54 module)', () => {
    const rack: Stage = { kind: 'rack', teeth: mm(20), module: mm(2), helixAngle: degrees(0), ...base };
    expect(travel(rack)).toEqual(exact(40, 1, 1));
    expect(toNumber(travel(rack))).toBeCloseTo(125.66370614359172, 12);
  });

  it('a helical rack of 19° 31′ 42″ has whole pitches: module 2 gives 6.6667 mm a tooth (common practice)', () => {
    const rack: Stage = {
      kind: 'rack',
      teeth: mm(20),
      module: mm(2),
      helixAngle: degrees(195283333, 10 ** 7),
      ...base,
    };
    expect(toNumber(travel(rack)) / 20).toBeCloseTo(20 / 3, 4);
  });

  it('a roller moves π · diameter, a wire drum π · (drum + wire); by hand 100 mm gives 314.159 mm', () => {
    const roller: Stage = { kind: 'roller', diameter: mm(100), ...base };
    const drum: Stage = { kind: 'wireDrum', drumDiameter: mm(98), wireDiameter: mm(2), ...base };
    expect(travel(roller)).toEqual(exact(100, 1, 1));
    expect(travel(drum)).toEqual(travel(roller));
    expect(toNumber(travel(drum))).toBeCloseTo(314.1592653589793, 12);
  });

  it('π stays a symbol: 1000 pulses a millimetre from a roller need a ratio with π, and say its steps as near as they are', () => {
    const input: AxisInput = {
      ...carriage,
      stages: [{ kind: 'roller', diameter: mm(100), ...base }],
      wantedResolution: known(exact(1, 100)),
    };
    const { wantedRatio, stepsPerUnit } = evaluateAxis(input);
    // 2²⁰ · 0.01 / (100 π), by hand: 33.377
    expect(toNumber(valueOf(wantedRatio) ?? exact(0))).toBeCloseTo((2 ** 20 * 0.01) / (100 * Math.PI), 9);
    expect(valueOf(wantedRatio)?.piPower).toBe(-1);
    expect(toNumber(valueOf(stepsPerUnit) ?? exact(0))).toBeCloseTo((2 ** 20 * 125) / 12288 / (100 * Math.PI), 9);
  });

  it('what is not given is unknown, with its reason', () => {
    const rack: Stage = {
      kind: 'rack',
      teeth: unknown('the teeth are missing'),
      module: mm(2),
      helixAngle: degrees(0),
      ...base,
    };
    expect(travelFactorsOf(rack)).toMatchObject({ state: 'unknown', because: 'the teeth are missing' });
  });
});

describe('stages that turn', () => {
  it('a belt reduction of 20 to 60 teeth takes three turns for one', () => {
    const stage: Stage = { kind: 'beltReduction', drivingTeeth: mm(20), drivenTeeth: mm(60), ...base };
    expect(valueOf(ratioOf(stage))).toEqual(exact(3));
    expect(travelFactorsOf(stage)).toBeUndefined();
    // Before a rack it divides what arrives: 2²⁰ · 3 counts for a turn of the pinion.
    const stages: Stage[] = [
      stage,
      { kind: 'rack', teeth: mm(20), module: mm(2), helixAngle: degrees(0), ...base, reverses: true },
    ];
    const input = { ...carriage, stages };
    const results = evaluateAxis(input);
    expect(valueOf(results.transmissionRatio)).toEqual(exact(3));
    // A reversal turns the sign from its station on.
    expect(stationsOf(input, results).map(({ sign }) => sign)).toEqual([1, 1, 1, 1, -1, -1]);
  });

  it('every kind either turns or gives travel', () => {
    expect(new Set([...turningKinds, ...travelKinds]).size).toBe(turningKinds.length + travelKinds.length);
  });
});

describe('cosineOf', () => {
  const digits = (value: Exact) => {
    const { numerator, denominator } = toRational(value);
    return String((numerator * 10n ** 45n) / denominator);
  };
  it('is good to 45 digits: a half at 60°, half the golden ratio at 36° (OEIS A019863)', () => {
    expect(digits(cosineOf(toRational(exact(36))))).toBe('809016994374947424102293417182819058860154589');
    expect(Math.abs(Number(digits(cosineOf(toRational(exact(60))))) - 5e44)).toBeLessThan(1e30);
    expect(digits(cosineOf(toRational(exact(0))))).toBe(`1${'0'.repeat(45)}`);
  });

  it('agrees with the floating-point cosine over its range', () => {
    for (let angle = -90; angle <= 90; angle += 7.5)
      expect(toNumber(cosineOf(toRational(exact(angle * 2, 2))))).toBeCloseTo(Math.cos((angle * Math.PI) / 180), 14);
  });
});
