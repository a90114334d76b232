import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { spindleFindingsOf } from '../findings/index.ts';
import { exact } from '../quantity/index.ts';
import { known, unknown, valueOf, workingOf, type Outcome } from '../sheet/index.ts';
import { grinder } from '../test/sampleSpindle.ts';
import {
  braking,
  busVoltsDuring,
  evaluateSpindle,
  probeSpindle,
  regionAt,
  spindleSheet,
  spindleStationKinds,
  voltsAt,
  type BrakingSupply,
  type SpindleInput,
} from './index.ts';

/** A number of any size that a field may take, or none. */
const maybe = (min: number, max: number): fc.Arbitrary<Outcome<number>> =>
  fc.oneof(
    { weight: 5, arbitrary: fc.double({ min, max, noNaN: true }).map(known) },
    { weight: 1, arbitrary: fc.constant(unknown('not filled in', '/x')) },
  );

const anySpindle: fc.Arbitrary<SpindleInput> = fc
  .record({
    power: maybe(1, 1e7),
    hertz: maybe(0.1, 4000),
    speed: maybe(1, 200000),
    poles: fc.oneof(
      fc.integer({ min: 1, max: 24 }).map((k) => known(2 * k)),
      fc.constant(unknown('none')),
    ),
    starVolts: fc.double({ min: 1, max: 2000, noNaN: true }),
    amps: fc.double({ min: 0.01, max: 10000, noNaN: true }),
    powerFactor: maybe(0.01, 1),
    supply: maybe(1, 2000),
    base: maybe(0.1, 4000),
    baseVolts: maybe(1, 2000),
    highest: maybe(0.1, 4000),
    ramp: maybe(0.001, 3600),
    ratio: fc.integer({ min: 1, max: 10000 }).map((k) => exact(k, 100)),
    inertia: maybe(0, 1000),
    friction: maybe(0, 1000),
    top: maybe(0.1, 200000),
    trip: maybe(1, 2000),
  })
  .map((drawn) => ({
    ...grinder,
    plate: {
      power: drawn.power,
      hertz: drawn.hertz,
      speed: drawn.speed,
      poles: drawn.poles,
      powerFactor: drawn.powerFactor,
      star: { volts: drawn.starVolts, amps: drawn.amps },
      delta: { volts: drawn.starVolts / Math.sqrt(3), amps: drawn.amps * Math.sqrt(3) },
    },
    supply: { ...grinder.supply, volts: drawn.supply },
    settings: {
      ...grinder.settings,
      base:
        drawn.base.state === 'known' && drawn.baseVolts.state === 'known'
          ? known({ hertz: drawn.base.value, volts: drawn.baseVolts.value })
          : unknown('no base'),
      highestHertz: drawn.highest,
      rampUp: drawn.ramp,
      rampDown: drawn.ramp,
    },
    drive: { ...grinder.drive, tripVolts: drawn.trip },
    step: { name: '', ratio: known(drawn.ratio) },
    pulleyInertia: drawn.inertia,
    frictionTorque: drawn.friction,
    wanted: { ...grinder.wanted, topSpeed: drawn.top },
  }));

describe('whatever is typed', () => {
  it('every result is a finite value or a reason, with a working to either', () => {
    fc.assert(
      fc.property(anySpindle, (input) => {
        const results = evaluateSpindle(input);
        for (const formula of spindleSheet.formulas) {
          const outcome = results[formula.symbol] as Outcome<unknown>;
          if (outcome.state === 'known' && typeof outcome.value === 'number')
            expect(Number.isFinite(outcome.value), formula.symbol).toBe(true);
          if (outcome.state === 'unknown') expect(outcome.because, formula.symbol).not.toBe('');
          const working = workingOf(spindleSheet, results, formula.symbol);
          expect(working?.result, formula.symbol).not.toMatch(/NaN|undefined/);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('findings speak in whole sentences, and name a field and a remedy', () => {
    fc.assert(
      fc.property(anySpindle, (input) => {
        for (const { message, remedy, path } of spindleFindingsOf({ input, results: evaluateSpindle(input) })) {
          expect(`${message} ${remedy}`).not.toMatch(/NaN|undefined|Infinity/);
          expect(message).toMatch(/[.!]$/);
          expect(path).toMatch(/^\//);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('the probe answers at every station from every station', () => {
    fc.assert(
      fc.property(
        anySpindle,
        fc.constantFrom(...spindleStationKinds),
        fc.integer({ min: 0, max: 65535 }),
        (input, at, typed) => {
          const probe = probeSpindle(input, evaluateSpindle(input), at, exact(typed));
          expect(Object.keys(probe).sort()).toEqual([...spindleStationKinds].sort());
          expect(valueOf(probe[at])).toBeDefined();
        },
      ),
    );
  });
});

describe('volts over hertz, of any curve', () => {
  const curve = fc
    .record({
      hertz: fc.double({ min: 1, max: 1000, noNaN: true }),
      volts: fc.double({ min: 1, max: 1000, noNaN: true }),
      boost: fc.double({ min: 0, max: 50, noNaN: true }),
      points: fc.array(
        fc.record({
          hertz: fc.double({ min: 0.01, max: 0.99, noNaN: true }),
          volts: fc.double({ min: 0, max: 1, noNaN: true }),
        }),
        { maxLength: 3 },
      ),
    })
    .map(({ hertz, volts, boost, points }) => ({
      base: { hertz, volts },
      boost,
      highestHertz: 2 * hertz,
      points: points
        .map((point) => ({ hertz: point.hertz * hertz, volts: boost + point.volts * Math.max(0, volts - boost) }))
        .sort((a, b) => a.hertz - b.hertz),
    }));

  it('goes through its points, never falls where they rise, and stays above the base', () => {
    fc.assert(
      fc.property(curve, fc.double({ min: 0, max: 1, noNaN: true }), (set, share) => {
        expect(voltsAt(set, 0)).toBeCloseTo(set.boost, 9);
        expect(voltsAt(set, set.base.hertz * (1 + share))).toBe(set.base.volts);
        const distinct = set.points.filter(({ hertz }, k) => hertz !== set.points[k + 1]?.hertz);
        for (const { hertz, volts } of distinct) expect(voltsAt(set, hertz)).toBeCloseTo(volts, 6);
        const all = [set.boost, ...set.points.map(({ volts }) => volts), set.base.volts];
        const at = voltsAt(set, share * set.base.hertz);
        expect(at).toBeGreaterThanOrEqual(Math.min(...all) - 1e-9);
        expect(at).toBeLessThanOrEqual(Math.max(...all) + 1e-9);
      }),
    );
  });

  it('power is torque times speed, and neither is ever above the plate up to the base', () => {
    fc.assert(
      fc.property(curve, fc.double({ min: 0.01, max: 2, noNaN: true }), (set, share) => {
        const hertz = share * set.base.hertz;
        const { torque, power, flux } = regionAt(set, set.base, hertz);
        expect(power).toBeCloseTo((torque * hertz) / set.base.hertz, 9);
        expect(torque).toBeLessThanOrEqual(1);
        expect(torque).toBeCloseTo(Math.min(1, flux), 12);
      }),
    );
  });
});

describe('the DC bus during a stop', () => {
  const supply: BrakingSupply = {
    capacitance: 0.00164,
    busVolts: 325,
    tripVolts: 410,
    efficiency: 0.78,
    idlePower: 35,
  };
  const load = fc.record({
    inertia: fc.double({ min: 0.0005, max: 0.5, noNaN: true }),
    torque: fc.double({ min: 0, max: 3, noNaN: true }),
  });
  const stop = fc.record({
    speed: fc.double({ min: 50, max: 2500, noNaN: true }),
    time: fc.double({ min: 0.2, max: 60, noNaN: true }),
  });

  it('without a resistor rises to where the energy says, never below where it began', () => {
    fc.assert(
      fc.property(load, stop, (turning, { speed, time }) => {
        const points = busVoltsDuring(turning, supply, speed, time, undefined, 80);
        const highest = Math.max(...points.map(({ volts }) => volts));
        const predicted = braking(turning, supply, speed, time).busVolts;
        expect(highest).toBeGreaterThan(predicted * 0.999 - 0.5);
        expect(highest).toBeLessThan(predicted * 1.001 + 0.5);
        expect(Math.min(...points.map(({ volts }) => volts))).toBeGreaterThanOrEqual(325 - 1e-9);
        expect(points.at(-1)?.time).toBeCloseTo(time, 9);
      }),
    );
  });

  it('a resistor that takes the peak holds it at the chopper; one that is too large does not', () => {
    fc.assert(
      fc.property(load, stop, (turning, { speed, time }) => {
        const { peakPower } = braking(turning, supply, speed, time);
        fc.pre(peakPower > 50 && peakPower < 10000);
        const most = 380 ** 2 / peakPower;
        const highest = (ohms: number) =>
          Math.max(...busVoltsDuring(turning, supply, speed, time, { ohms, volts: 380 }, 80).map(({ volts }) => volts));
        expect(highest(0.8 * most)).toBeLessThan(400);
        expect(highest(0.8 * most)).toBeLessThanOrEqual(highest(5 * most) + 1e-9);
      }),
    );
  });
});
