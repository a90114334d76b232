import { describe, expect, it } from 'vitest';
import { timeToSpeed } from '../spindle/index.ts';
import { runSpindle, type SpindleDefinition, type SpindleEvent, type SpindleLedger } from './index.ts';

/** 2.2 kW, two poles, 400 V, 50 Hz, 2850 rpm: 7.37 N·m at 5 % slip. */
const grinder: SpindleDefinition = {
  stepRate: 2000,
  poles: 2,
  ratedVolts: 400,
  ratedHertz: 50,
  ratedCurrent: 4.6,
  ratedTorque: 2200 / ((2850 * Math.PI) / 30),
  ratedSlip: 0.05,
  noLoadCurrent: 1.7,
  breakdown: 2.5,
  statorResistance: 2.2,
  curve: { base: { hertz: 50, volts: 400 }, boost: 12, points: [], highestHertz: 50 },
  inertia: 0.02,
  friction: 0.4,
  windage: 0,
  rampUp: 5,
  rampDown: 5,
  holdCurrent: 100,
  protectionCurrent: 4.6,
  tripCurrent: 12,
  tripVolts: 800,
  leastVolts: 380,
  capacitance: 0.0005,
  supplyVolts: 565,
  idlePower: 25,
  resistor: undefined,
};
const start: SpindleEvent = { at: 0, kind: 'speed', hertz: 50 };
const last = (values: Float64Array) => values[values.length - 1] ?? NaN;
const imbalance = (l: SpindleLedger) => {
  const spent = l.kinetic + l.capacitors + l.loadWork + l.rotorHeat + l.statorHeat + l.idle + l.resistor;
  return Math.abs(l.fromSupply - spent) / Math.max(l.fromSupply, 1);
};

describe('a spindle on its drive', () => {
  it('runs at its plate’s speed and amps with rated torque on it', () => {
    const events: SpindleEvent[] = [start, { at: 6, kind: 'load', torque: grinder.ratedTorque - 0.4 }];
    const { recording, trip } = runSpindle(grinder, events, 12);
    expect(trip).toBeUndefined();
    expect(last(recording.speed)).toBeCloseTo(2850, 0);
    expect(last(recording.torque)).toBeCloseTo(grinder.ratedTorque, 3);
    expect(last(recording.current)).toBeCloseTo(4.6, 2);
    // Before the load: friction alone, near the field’s 3000 rpm (120·f/poles), and hardly more than the magnetising current.
    expect(recording.speed[590]).toBeGreaterThan(2985);
    expect(recording.current[590]).toBeLessThan(1.8);
  });

  it('closes its energy ledger within a thousandth, through ramps, load, braking and a resistor', () => {
    const events: SpindleEvent[] = [
      start,
      { at: 6, kind: 'load', torque: 5 },
      { at: 8, kind: 'load', torque: 0 },
      { at: 9, kind: 'speed', hertz: 20 },
      { at: 14, kind: 'speed', hertz: 0 },
    ];
    for (const resistor of [undefined, { ohms: 120, volts: 700 }])
      for (const rampDown of [1, 20]) {
        const { ledger } = runSpindle({ ...grinder, resistor, rampDown }, events, 20);
        expect(imbalance(ledger), `${rampDown} ${resistor?.ohms}`).toBeLessThan(0.001);
      }
  });

  it('cannot follow a ramp faster than its torque, which the formula for the time tells', () => {
    const strong = {
      ...grinder,
      rampUp: 0.01,
      holdCurrent: 1e9,
      tripCurrent: 1e9,
      curve: { ...grinder.curve, boost: 0 },
    };
    const { recording } = runSpindle(strong, [start], 8);
    const reached = recording.speed.findIndex((speed) => speed > 2800) * recording.period;
    const omega = (2800 * Math.PI) / 30;
    // Between what the breakdown torque would do and what rated torque would.
    const load = { inertia: grinder.inertia, torque: 0.4 };
    expect(reached).toBeGreaterThan(timeToSpeed(load, { torque: 2.5 * grinder.ratedTorque, baseSpeed: omega }, omega));
    expect(reached).toBeLessThan(timeToSpeed(load, { torque: 0.5 * grinder.ratedTorque, baseSpeed: omega }, omega));
  });

  it('trips on overvoltage where a quick stop has nowhere to put its energy; a resistor takes it', () => {
    const events: SpindleEvent[] = [start, { at: 6, kind: 'speed', hertz: 0 }];
    const quick = { ...grinder, rampDown: 0.8 };
    const bare = runSpindle(quick, events, 10);
    expect(bare.trip).toMatchObject({ kind: 'overvoltage' });
    expect(bare.trip?.at).toBeGreaterThan(6);
    // It then coasts: at 0.4 N·m far from rest after four seconds.
    expect(last(bare.recording.speed)).toBeGreaterThan(500);
    const braked = runSpindle({ ...quick, resistor: { ohms: 120, volts: 700 } }, events, 10);
    expect(braked.trip).toBeUndefined();
    expect(last(braked.recording.speed)).toBe(0);
    expect(braked.ledger.resistor).toBeGreaterThan(0.5 * 0.5 * 0.02 * 314 ** 2);
    // Slow enough, it needs none.
    expect(runSpindle({ ...grinder, rampDown: 60 }, events, 70).trip).toBeUndefined();
  });

  it('a 400 Hz spindle on a base of 50 Hz trips on overcurrent as it starts', () => {
    const high = {
      ...grinder,
      inertia: 0.0004,
      friction: 0.02,
      ratedHertz: 400,
      curve: { ...grinder.curve, highestHertz: 400 },
      ratedTorque: 0.9,
    };
    const run = runSpindle(high, [{ at: 0, kind: 'speed', hertz: 400 }], 5);
    expect(run.trip).toMatchObject({ kind: 'overcurrent' });
    expect(run.trip?.at).toBeLessThan(1);
    const right = { ...high, curve: { base: { hertz: 400, volts: 400 }, boost: 12, points: [], highestHertz: 400 } };
    expect(runSpindle(right, [{ at: 0, kind: 'speed', hertz: 400 }], 8).trip).toBeUndefined();
  });

  it('a cut supply ends in undervoltage, and the spindle coasts as long as friction says', () => {
    const { trip, recording } = runSpindle(grinder, [start, { at: 6, kind: 'supply', isOn: false }], 20);
    expect(trip).toMatchObject({ kind: 'undervoltage' });
    // J·ω/T from near 3000 rpm: 0.02 · 314 / 0.4 = 15.7 s
    const from = recording.speed[Math.round(((trip?.at ?? 0) + 0.05) / recording.period)] ?? NaN;
    const slope = (from - last(recording.speed)) / (20 - (trip?.at ?? 0) - 0.05);
    expect(slope).toBeCloseTo(((0.4 / 0.02) * 30) / Math.PI, -1);
  });

  it('leaves its ramp when the current is too high, instead of tripping', () => {
    const hasty = { ...grinder, rampUp: 0.3, inertia: 0.08, tripCurrent: 9 };
    expect(runSpindle(hasty, [start], 8).trip).toMatchObject({ kind: 'overcurrent' });
    const held = runSpindle({ ...hasty, holdCurrent: 6.5 }, [start], 12);
    expect(held.trip).toBeUndefined();
    expect(last(held.recording.speed)).toBeGreaterThan(2900);
  });

  it('refuses what cannot be', () => {
    expect(() => runSpindle({ ...grinder, inertia: 0 }, [start], 1)).toThrow(/inertia above 0/);
  });
});
