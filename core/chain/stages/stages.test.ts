import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planMove } from '../../motion/index.ts';
import { cosineOf, exact, multiply, toNumber, toRational, type Exact } from '../../quantity/index.ts';
import { known, unknown, valueOf } from '../../sheet/index.ts';
import { carriage, everything } from '../../test/sampleAxis.ts';
import { evaluateAxis, probe, stationsOf, type AxisInput, type ScrewStage } from '../index.ts';
import { ratioOf, travelFactorsOf, type Stage } from './stage.ts';

const base = {
  reverses: false,
  efficiency: known(0.9),
  inertia: known(0),
  backlash: known(0),
  speedLimit: undefined,
} as const;
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
});

describe('mechanisms of an axis', () => {
  const number = (input: AxisInput, symbol: 'backlash' | 'highestSpeed' | 'criticalSpeed' | 'beltStretch') =>
    valueOf(evaluateAxis(input)[symbol]) ?? NaN;
  const screw: ScrewStage = {
    kind: 'screw',
    thread: 'rolling',
    lead: mm(5),
    starts: mm(1),
    leftHand: false,
    rootDiameter: known(13),
    freeLength: known(1000),
    bearings: 'fixed and supported',
    ...base,
  };

  it('a rotary table counts degrees, a dosing head millilitres', () => {
    const table: AxisInput = {
      ...carriage,
      motionKind: 'rotary',
      axisUnit: 'deg',
      stages: [{ kind: 'rotaryTable', ratio: degrees(90), ...base }],
    };
    // 2²⁰ · 90 / 360 counts a degree
    expect(valueOf(evaluateAxis(table).feedbackResolution)).toEqual(exact(360, 2 ** 20 * 90));
    const head: Stage = { kind: 'dosingHead', outputPerTurn: mm(7, 2), ...base };
    expect(travel(head)).toEqual(exact(7, 2));
    const pump: AxisInput = { ...carriage, motionKind: 'dosing', axisUnit: 'mL', stages: [head] };
    expect(valueOf(evaluateAxis(pump).feedbackResolution)).toEqual(exact(7, 2 ** 21));
    expect(evaluateAxis({ ...pump, stages: carriage.stages }).travelPerTurn).toMatchObject({
      because: 'a dosing axis ends in a dosing head',
    });
  });

  it('a linear motor has counts a mm and no revolution; nothing stands between it and its slide', () => {
    const motor: AxisInput = {
      ...carriage,
      motorForm: 'linear',
      encoderCycles: known(exact(1000)),
      stages: [{ kind: 'slide', ...base, efficiency: known(1), speedLimit: 900 }],
      gearNumerator: known(exact(10)),
      gearDenominator: known(exact(1)),
      rotorInertia: known(2),
      motorTopSpeed: known(3000),
      testMove: known(planMove(400, { speed: 500, acceleration: 5000 })),
    };
    const results = evaluateAxis(motor);
    // 1000 counts a mm, ten counts a pulse: 100 pulses/mm, and 900 mm/s by the slide.
    expect(valueOf(results.stepsPerUnit)).toEqual(exact(100));
    expect(valueOf(results.highestSpeed)).toBe(900);
    expect(valueOf(results.bindingLimits)).toEqual(['speed limit of stage 1']);
    expect(valueOf(results.speedAtMotor)).toBe(3000);
    // Newton: (8 + 2) kg · 5 m/s² + 45 N; mass ratio 8 / 2.
    expect(valueOf(results.testMovePeakTorque)).toBeCloseTo(10 * 5 + 45, 9);
    expect(valueOf(results.inertiaRatio)).toBeCloseTo(4, 12);
    expect(stationsOf(motor, results).map(({ leaves }) => leaves)).toEqual(['pulses', 'counts', 'mm', 'mm', 'mm']);
    expect(evaluateAxis({ ...motor, stages: carriage.stages }).stepsPerUnit).toMatchObject({
      because: 'a linear motor drives its slide directly, without stages',
    });
    // Root mean square of the speed over move and dwell, in mm/s: 0.1 s up, 0.7 s at 500, 0.1 s down, 0.3 s rest.
    expect(valueOf(results.testMoveRmsSpeed)).toBeCloseTo(Math.sqrt((500 ** 2 * (0.7 + 0.2 / 3)) / 1.2), 6);
  });

  it('a left-hand screw turns the sign of the load, and a reversal turns it back', () => {
    const sign = (changes: Partial<ScrewStage>) => {
      const input = { ...carriage, stages: [{ ...screw, ...changes }] };
      return stationsOf(input, evaluateAxis(input)).map((station) => station.sign);
    };
    expect(sign({})).toEqual([1, 1, 1, 1, 1]);
    expect(sign({ leftHand: true })).toEqual([1, 1, 1, -1, -1]);
    expect(sign({ leftHand: true, reverses: true })).toEqual([1, 1, 1, 1, 1]);
  });

  it('a probe sent up and down again returns the value exactly, whatever the mechanics', () => {
    const ratio = fc.tuple(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 1, max: 99 }));
    const stage = fc.tuple(fc.constantFrom('gearbox', 'belt', 'worm'), ratio, fc.boolean());
    const last = fc.tuple(fc.constantFrom('screw', 'rack', 'roller', 'belt', 'drum'), ratio, fc.boolean());
    const turning = ([kind, [a, b], reverses]: readonly [string, readonly [number, number], boolean]): Stage => {
      const own = { ...base, reverses };
      if (kind === 'gearbox') return { kind, ratio: mm(a, b), ...own };
      if (kind === 'belt') return { kind: 'beltReduction', drivingTeeth: mm(b), drivenTeeth: mm(a), ...own };
      return { kind: 'worm', backDriveEfficiency: undefined, starts: mm(b), wheelTeeth: mm(a), ...own };
    };
    const travelling = ([kind, [a, b], reverses]: readonly [string, readonly [number, number], boolean]): Stage => {
      const own = { ...base, reverses };
      if (kind === 'screw') return { ...screw, lead: mm(a, b), leftHand: reverses };
      if (kind === 'rack') return { kind, teeth: mm(a), module: mm(b, 4), helixAngle: degrees(0), ...own };
      if (kind === 'roller') return { kind, diameter: mm(a, b), ...own };
      if (kind === 'drum') return { kind: 'wireDrum', drumDiameter: mm(a), wireDiameter: mm(b), ...own };
      const unknownBelt = { specificStiffness: unknown('no'), freeLength: unknown('no') };
      return { kind: 'beltDrive', teeth: mm(a), pitch: mm(b, 2), ...unknownBelt, ...own };
    };
    fc.assert(
      fc.property(fc.array(stage, { maxLength: 3 }), last, ratio, ratio, (stages, end, gear, value) => {
        const input: AxisInput = {
          ...carriage,
          stages: [...stages.map(turning), travelling(end)],
          gearNumerator: mm(gear[0]),
          gearDenominator: mm(gear[1]),
        };
        const stations = stationsOf(input, evaluateAxis(input));
        const sent = exact(value[0], value[1]);
        for (const [id, there] of Object.entries(probe(stations, 'load', sent)))
          expect(probe(stations, id, valueOf(there) ?? exact(0)).load).toEqual(known(sent));
      }),
    );
  });

  it('solving both ways agrees: the ratio wanted for a resolution gives that resolution', () => {
    const whole = fc.integer({ min: 1, max: 5000 });
    fc.assert(
      fc.property(whole, whole, whole, (lead, part, lines) => {
        const axis: AxisInput = {
          ...carriage,
          encoderCycles: mm(lines),
          countsPerCycle: mm(4),
          stages: [{ ...screw, lead: mm(lead, 7) }],
          wantedResolution: mm(1, part),
        };
        const ratio = toRational(valueOf(evaluateAxis(axis).wantedRatio) ?? exact(0));
        const solved = evaluateAxis({
          ...axis,
          gearNumerator: known(exact(ratio.numerator)),
          gearDenominator: known(exact(ratio.denominator)),
        });
        expect(valueOf(solved.commandResolution)).toEqual(exact(1, part));
        expect(valueOf(solved.stepsPerUnit)).toEqual(exact(part));
        expect(valueOf(solved.ratioError)).toBe(0);
      }),
    );
  });

  it('backlash adds up at the load: 6 arcmin before 320 mm a turn and 0.05 mm behind it, by hand 0.05533 mm', () => {
    const [gearbox, belt] = carriage.stages as [Stage, Stage];
    const input = {
      ...carriage,
      stages: [
        { ...gearbox, backlash: known(0.1) },
        { ...belt, backlash: known(0.05) },
      ],
    };
    // 0.1° at the gearbox's output is 0.1 / 360 of 320 mm
    expect(number(input, 'backlash')).toBeCloseTo(0.05 + 32 / 360, 12);
    const table: AxisInput = {
      ...carriage,
      motionKind: 'rotary',
      axisUnit: 'deg',
      stages: [
        { ...gearbox, backlash: known(0.2) },
        { kind: 'rotaryTable', ratio: degrees(10), ...base, backlash: known(0.01) },
      ],
    };
    expect(number(table, 'backlash')).toBeCloseTo(0.2 / 10 + 0.01, 12);
  });

  it('a speed limit of a stage binds at its own shaft', () => {
    const [gearbox, belt] = carriage.stages as [Stage, Stage];
    const limited = (first: number | undefined, second: number | undefined) =>
      number(
        {
          ...carriage,
          stages: [
            { ...gearbox, speedLimit: first },
            { ...belt, speedLimit: second },
          ],
        },
        'highestSpeed',
      );
    // 1500 rpm at the gearbox's input: 25 / 3 · 320; 300 rpm at the pulley: 5 · 320. The controller ends at 2000 mm/s.
    expect(limited(undefined, undefined)).toBe(2000);
    expect(limited(1500, undefined)).toBeCloseTo(2000, 9);
    expect(limited(900, undefined)).toBeCloseTo(1600, 9);
    expect(limited(900, 240)).toBeCloseTo(1280, 9);
  });

  it('critical speed of a ball screw: 4.76·10⁶ · k · d / l² in rpm and inches (handbook), within 2 %', () => {
    // The rule and its factors from memory; some catalogues round the last two down to 1.47 and 2.23.
    const factors = {
      'fixed and free': 0.36,
      'supported at both': 1,
      'fixed and supported': 1.57,
      'fixed at both': 2.27,
    };
    for (const [bearings, factor] of Object.entries(factors) as [ScrewStage['bearings'], number][]) {
      const [diameter, length] = [13 / 25.4, 1000 / 25.4];
      const rpm = (4.76e6 * factor * diameter) / length ** 2;
      const got = number({ ...carriage, stages: [{ ...screw, bearings }] }, 'criticalSpeed');
      expect(Math.abs(got / rpm - 1)).toBeLessThan(0.02);
    }
    // Four fifths of it bind: 13 mm over 1 m, 2450 rpm · 0.8 on 5 mm.
    const long = {
      ...carriage,
      stages: [screw],
      motorTopSpeed: known(9000),
      controllerPulseRate: known(9e6),
      driveInputRate: known(9e6),
    };
    expect(number(long, 'highestSpeed')).toBeCloseTo((0.8 * number(long, 'criticalSpeed') * 5) / 60, 9);
  });

  it('a belt of 2 MN specific stiffness and 1.9 m gives by 73 µm under 77 N (Hooke’s law)', () => {
    // 8 kg · 4 m/s² + 45 N = 77 N; 77 · 1900 / 2·10⁶ = 0.07315 mm
    const input = { ...everything, pair: undefined };
    expect(number(input, 'beltStretch')).toBeCloseTo(0.07315, 9);
    // Two motors share the load, each with a belt of its own.
    expect(number(everything, 'beltStretch')).toBeCloseTo(0.07315 / 2, 9);
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
