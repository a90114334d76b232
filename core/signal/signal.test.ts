import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import { known, unknown, valueOf } from '../sheet/index.ts';
import {
  alarmCases,
  countedBy,
  e24,
  enableCases,
  formMismatch,
  levelsOf,
  limitCases,
  lineResult,
  nearestStandard,
  pulseForms,
  rateByWidth,
  resistorFor,
  timingPicture,
  trainResult,
  type LineCircuit,
} from './index.ts';

describe('pulse forms', () => {
  it('a drive set to the same form counts what was sent', () => {
    fc.assert(
      fc.property(fc.constantFrom(...pulseForms), fc.integer({ min: -300, max: 300 }), (form, increments) => {
        expect(countedBy(form, levelsOf(form, increments))).toBe(increments);
        expect(formMismatch(form, form)).toBeUndefined();
      }),
    );
  });

  // By hand: which edges the other form sees while 400 increments are sent each way.
  it.each([
    ['stepDirection', 'clockwisePulses', 1, 1],
    ['stepDirection', 'quadrature', 0, 0],
    ['clockwisePulses', 'stepDirection', -1, 0],
    ['clockwisePulses', 'quadrature', 0, 0],
    // A cycle of four increments has one rising edge of A, with B still low towards plus.
    ['quadrature', 'stepDirection', -0.25, 0.25],
    ['quadrature', 'clockwisePulses', 0, 0],
  ] as const)('%s taken for %s', (sent, taken, forPlus, forMinus) => {
    const mismatch = formMismatch(sent, taken);
    expect([mismatch?.forPlus, mismatch?.forMinus].map((share) => (share ?? NaN) + 0)).toEqual([forPlus, forMinus]);
  });

  it('says what the axis would do', () => {
    expect(formMismatch('stepDirection', 'clockwisePulses')?.words).toBe(
      'a plus command moves it the right way, a minus command moves it the wrong way',
    );
    expect(formMismatch('quadrature', 'stepDirection')?.words).toBe(
      'a plus command moves it the wrong way, 0.25 of the distance, a minus command moves it the wrong way, 0.25 of the distance',
    );
  });
});

describe('timing, by hand', () => {
  const needed = { minimumPulseWidth: 2.5e-6, directionSetUp: 5e-6 };
  it('2.5 µs high and 2.5 µs low are 200 kHz; 10 µs high and 2.5 µs low are 80 kHz', () => {
    const rate = (pulseWidth: number | undefined) =>
      rateByWidth('stepDirection', { pulseWidth, directionSetUp: 0 }, needed);
    expect(rate(undefined)).toBeCloseTo(200_000, 6);
    expect(rate(1e-5)).toBeCloseTo(80_000, 6);
    expect(rate(1e-6)).toBeCloseTo(200_000, 6);
    // Each line of a quadrature rests for two increments: 800 000 increments/s are 200 000 cycles/s of 5 µs.
    expect(rateByWidth('quadrature', { pulseWidth: undefined, directionSetUp: 0 }, needed)).toBeCloseTo(800_000, 6);
    expect(
      rateByWidth('stepDirection', { pulseWidth: undefined, directionSetUp: 0 }, { ...needed, minimumPulseWidth: 0 }),
    ).toBe(Infinity);
    // A pulse of 4.19 µs leaves room for 1 / 4.19 µs of them, whatever the gap; with a gap of 1 ns for a few less.
    const short = (minimumPulseWidth: number) =>
      rateByWidth('stepDirection', { pulseWidth: 4.19e-6, directionSetUp: 0 }, { ...needed, minimumPulseWidth });
    expect(short(0)).toBeCloseTo(238_663.48, 1);
    expect(short(1e-9)).toBeCloseTo(238_606.54, 1);
  });

  it.each(pulseForms)('the picture of %s is to scale, and its lines say three plus and two minus', (form) => {
    const picture = timingPicture(form, 50_000, { pulseWidth: undefined, directionSetUp: 8e-6 }, needed);
    const times = [...new Set(picture.lines.flatMap(({ edges }) => edges.map(({ at }) => at)))].sort((a, b) => a - b);
    const levelAt = (line: 0 | 1, time: number) =>
      picture.lines[line].edges.filter(({ at }) => at <= time).at(-1)?.level ?? picture.lines[line].start;
    const states = [-1, ...times].map((time) => [levelAt(0, time), levelAt(1, time)] as const);
    expect(countedBy(form, states)).toBe(form === 'quadrature' ? 1 : 3 - 2);
    expect(times.at(-1)).toBeLessThan(picture.duration);
    // 50 kHz: 20 µs from rise to rise of the first line; of a quadrature four increments make a cycle.
    const rises = picture.lines[0].edges.filter(({ level }) => level).map(({ at }) => at);
    expect((rises[1] ?? 0) - (rises[0] ?? 0)).toBeCloseTo(form === 'quadrature' ? 6e-5 : 2e-5, 12);
    expect(picture.marks.every(({ isEnough }) => isEnough)).toBe(true);
  });

  it('marks what is too short', () => {
    const picture = timingPicture('stepDirection', 400_000, { pulseWidth: 1e-6, directionSetUp: 0 }, needed);
    expect(picture.marks.filter(({ isEnough }) => !isEnough).map(({ label }) => label)).toEqual([
      'pulse',
      'gap',
      'direction before pulse',
    ]);
  });
});

describe('series resistor', () => {
  it('series E24 of IEC 60063: the 24th roots of ten, but for the eight values that the standard keeps from of old', () => {
    const kept: Readonly<Record<number, number>> = { 10: 27, 11: 30, 12: 33, 13: 36, 14: 39, 15: 43, 16: 47, 22: 82 };
    expect(e24).toEqual(Array.from({ length: 24 }, (_, k) => kept[k] ?? Math.round(10 * 10 ** (k / 24))));
    expect([nearestStandard(1828), nearestStandard(9.4), nearestStandard(4.9e5)]).toEqual([1800, 9.1, 510000]);
  });

  it('24 V into an optocoupler of 1.3 V with 150 Ω of its own, by hand: 1.8 kΩ, 11.4 mA, 0.23 W', () => {
    // √(7 · 18) = 11.225 mA in the middle; (24 − 0.5 − 1.3) / 11.225 mA − 150 = 1828 Ω.
    const resistor = resistorFor(24 - 0.5 - 1.3, 150, 0.007, 0.018);
    expect(resistor).toMatchObject({ ohms: 1800, rating: 0.5 });
    expect(resistor?.current).toBeCloseTo(22.2 / 1950, 9);
    expect(resistor?.power).toBeCloseTo((22.2 / 1950) ** 2 * 1800, 9);
    // 2.45 V / 1420 Ω are 1.725 mA already.
    expect(resistorFor(2.45, 1420, 0.00164, 0.0082)).toBeUndefined();
    expect(resistorFor(-1, 150, 0.007, 0.018)).toBeUndefined();
    expect(resistorFor(0.5, 150, 0.007, 0.018)).toBeUndefined();
  });
});

describe('levels', () => {
  it('2000 Ω in the cable before an input of 2200 Ω are too much, and no resistor helps', () => {
    const line = lineResult({ ...circuit, inputResistance: known(2200), cableResistance: 2000 });
    expect(line).toMatchObject({ value: { fit: 'too weak', resistor: undefined } });
  });

  const circuit: LineCircuit = {
    output: 'open collector, sinking',
    outputVoltage: known(24),
    outputDrop: known(0.5),
    outputCurrent: undefined,
    inputKind: 'optocoupler',
    forwardVoltage: known(1.3),
    inputResistance: known(150),
    minimumCurrent: known(0.007),
    maximumCurrent: known(0.018),
    cableResistance: 2000,
  };
  const line = (changes: Partial<LineCircuit>) => {
    const result = valueOf(lineResult({ ...circuit, ...changes }));
    if (!result) throw new Error('the line is not known');
    return result;
  };

  it('22.2 V over 2150 Ω are 10.3 mA: it fits, and the current goes into the controller', () => {
    expect(line({})).toMatchObject({ fit: 'fits' });
    expect(line({}).current).toBeCloseTo(0.010326, 6);
    expect(line({}).path).toEqual([
      'supply +',
      'resistor',
      'drive line +',
      'optocoupler',
      'drive line −',
      'into the controller’s output',
      '0 V',
    ]);
    expect(line({ output: 'open collector, sourcing' }).path.at(1)).toBe('out of the controller’s output');
  });

  it('24 V with no resistor at all burn the input; the remedy is a resistor', () => {
    const burnt = line({ inputResistance: known(0), cableResistance: 0 });
    expect(burnt).toMatchObject({
      fit: 'ruinous',
      current: undefined,
      because: expect.stringContaining('no resistance'),
    });
    // 22.2 V / 11.225 mA = 1978 Ω, 2.0 kΩ
    expect(burnt.resistor?.ohms).toBe(2000);
    // 22.2 V / 150 Ω = 148 mA
    expect(line({ cableResistance: 0 })).toMatchObject({
      fit: 'ruinous',
      because: 'the current is 148 mA; the input is rated for 18 mA',
    });
  });

  it('an output that carries less than the input draws is named, and the resistor proposed spares it', () => {
    // 22.2 V / 2150 Ω = 10.3 mA; 22.2 V / 8 mA = 2775 Ω, less the 150 Ω of the drive.
    const spared = line({ outputCurrent: 0.008 });
    expect(spared).toMatchObject({
      fit: 'ruinous',
      because: 'the current is 10.3 mA; the controller’s output is rated for 8 mA',
    });
    expect(spared.resistor?.current).toBeLessThanOrEqual(0.008);
    expect(line({ outputCurrent: 0.004 }).because).toContain('less than the 7 mA that the input needs');
    expect(line({ outputCurrent: 0.004 }).resistor).toBeUndefined();
    expect(line({ outputCurrent: 0.0104 }).fit).toBe('fits');
  });

  it('a resistor in the cable and one in the drive leave too little', () => {
    const weak = line({ inputResistance: known(1800) });
    // 22.2 V / 3800 Ω = 5.84 mA
    expect(weak).toMatchObject({ fit: 'too weak', because: expect.stringContaining('is 5.84 mA') });
    expect(weak.because).toContain('adds to');
    expect(line({ outputVoltage: known(1.5) })).toMatchObject({ fit: 'too weak', current: 0 });
  });

  it('a receiver takes a line driver, and nothing that drives one wire alone', () => {
    expect(line({ inputKind: 'receiver', output: 'differential', outputVoltage: known(2) }).fit).toBe('fits');
    // TIA/EIA-422-B: 200 mV between the wires
    expect(line({ inputKind: 'receiver', output: 'differential', outputVoltage: known(0.1) }).fit).toBe('too weak');
    expect(line({ inputKind: 'receiver', output: 'push-pull' }).fit).toBe('does not fit');
  });

  it('is unknown, with the reason, while a number is missing', () => {
    expect(lineResult({ ...circuit, forwardVoltage: unknown('the data sheet is missing') })).toMatchObject({
      because: 'the data sheet is missing',
    });
  });

  it('whatever the numbers, the resistor proposed puts the current between the limits', () => {
    const volts = fc.double({ min: 3, max: 48, noNaN: true });
    const ohms = fc.double({ min: 0, max: 3000, noNaN: true });
    fc.assert(
      fc.property(volts, ohms, (outputVoltage, own) => {
        const { resistor } = line({
          outputVoltage: known(outputVoltage),
          inputResistance: known(own),
          cableResistance: 0,
        });
        if (!resistor) return;
        const after = line({
          outputVoltage: known(outputVoltage),
          inputResistance: known(own),
          cableResistance: resistor.ohms,
        });
        expect(after.fit).toBe('fits');
        expect(after.current).toBeCloseTo(resistor.current, 12);
      }),
    );
  });
});

describe('protection', () => {
  it('an enable that is active low is on with a broken wire, and inverted levels hold exactly when they should not', () => {
    const on = (controllerLevel: 'high' | 'low', driveLevel: 'high' | 'low', isWired = true) =>
      enableCases({ controllerLevel, driveLevel, isWired }).map(({ isEnabled }) => isEnabled);
    // enabled by the controller, disabled, broken wire, controller without power
    expect(on('high', 'high')).toEqual([true, false, false, false]);
    expect(on('low', 'low')).toEqual([true, false, true, true]);
    expect(on('high', 'low')).toEqual([false, true, true, true]);
    expect(on('high', 'high', false)).toEqual([false, false, false, false]);
  });

  it('alarm contacts: what is seen, and whether the drive is known, in every way they can be joined', () => {
    const seen = (
      contact: 'normallyClosed' | 'normallyOpen',
      joined: 'alone' | 'series' | 'parallel',
      drives: number,
    ) =>
      alarmCases({ contact, joined, drives }).map(({ isSeen, isIdentified }) =>
        [isSeen, isIdentified].map(Number).join(''),
      );
    // a drive trips, broken wire, a drive without power
    expect(seen('normallyClosed', 'alone', 1)).toEqual(['11', '10', '11']);
    expect(seen('normallyClosed', 'series', 3)).toEqual(['10', '10', '10']);
    expect(seen('normallyClosed', 'parallel', 3)).toEqual(['00', '00', '00']);
    expect(seen('normallyOpen', 'parallel', 3)).toEqual(['10', '00', '00']);
    expect(seen('normallyOpen', 'series', 2)).toEqual(['00', '00', '00']);
  });

  it('limit switches: normally closed and active low is the only way that sees a broken wire and still works', () => {
    const good = (['normallyClosed', 'normallyOpen'] as const).flatMap((contact) =>
      (['low', 'high'] as const)
        .filter((activeLevel) => Object.values(limitCases({ contact, activeLevel })).every(Boolean))
        .map((level) => `${contact} ${level}`),
    );
    expect(good).toEqual(['normallyClosed low']);
  });
});

describe('untimed pulse trains', () => {
  it('1000 pulses at 30 kHz take 33.3 ms; 13 cm in them are 0.13 mm a pulse (common practice)', () => {
    const train = {
      pulses: 1000,
      rate: 30_000,
      repeatPeriod: undefined,
      speedLimit: 2000,
      acceleration: 10_000,
      smoothing: 0.02,
    };
    const result = trainResult(train, 1000 / 130);
    expect(result.trainTime).toBeCloseTo(0.0333333, 6);
    expect(result.distance).toBeCloseTo(130, 9);
    // A short move: √(a · d) = √(10 000 · 130) = 1140 mm/s, 2 · √(d / a) = 0.228 s; 1140 · 7.692 = 8771 pulses/s.
    expect(result.peakSpeed).toBeCloseTo(1140.175, 3);
    expect(result.profileTime).toBeCloseTo(2 * Math.sqrt(0.013), 9);
    expect(result.moveTime).toBeCloseTo(2 * Math.sqrt(0.013) + 0.02, 9);
    expect(result.lowestRate).toBeCloseTo(8770.58, 2);
  });

  it('sent slower than that, the train sets the pace', () => {
    const train = {
      pulses: 1000,
      rate: 500,
      repeatPeriod: undefined,
      speedLimit: 2000,
      acceleration: 10_000,
      smoothing: 0,
    };
    // 2 s at 50 mm/s, and 5 ms more to slow down from it at 10 000 mm/s².
    expect(trainResult(train, 10).moveTime).toBeCloseTo(2.005, 9);
    expect(trainResult(train, 10).profileTime).toBeCloseTo(
      planMove(100, { speed: 2000, acceleration: 10_000 }).duration,
      9,
    );
  });
});
