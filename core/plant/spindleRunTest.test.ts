import { describe, expect, it } from 'vitest';
import { known, unknown, valueOf } from '../sheet/index.ts';
import { evaluateSpindle, type SpindleInput } from '../spindle/index.ts';
import { grinder, highFrequency } from '../test/sampleSpindle.ts';
import { runSpindle, runTestEvents, spindleDefinition } from './index.ts';

function run(input: SpindleInput) {
  const results = evaluateSpindle(input);
  const definition = valueOf(spindleDefinition(input, results));
  const test = valueOf(runTestEvents(input, results));
  if (!definition || !test) throw new Error('something of the run test is unknown');
  return { ...runSpindle(definition, test.events, test.duration), definition };
}
const at = (values: Float64Array, second: number) => values[Math.round(second / 0.01)] ?? NaN;
const change = (runTest: Partial<SpindleInput['runTest']>, more: Partial<SpindleInput> = {}): SpindleInput => ({
  ...grinder,
  ...more,
  runTest: { ...grinder.runTest, ...runTest },
});

describe('the predicted run test', () => {
  it('goes through the speeds of the plan, the load and the stop', () => {
    const { recording, trip, ledger } = run(grinder);
    expect(trip).toBeUndefined();
    // 1900 rpm of the tool are 2850 of the field; hardly any slip without a load. Ramp: 60 Hz in 3 s.
    expect(at(recording.speed, 5)).toBeGreaterThan(2830);
    expect(at(recording.hertz, 1)).toBeCloseTo(20, 0);
    expect(at(recording.speed, 9)).toBeGreaterThan(3280);
    expect(at(recording.hertz, 15)).toBeCloseTo(30, 6);
    // 8 N·m at the tool are 5.33 at the motor, on top of 0.35 of friction.
    expect(at(recording.torque, 19)).toBeCloseTo(8 / 1.5 + 0.35, 2);
    expect(at(recording.speed, 29)).toBe(0);
    const { fromSupply, ...spent } = ledger;
    const sum = Object.values(spent).reduce((a, b) => a + b, 0);
    expect(Math.abs(fromSupply - sum) / fromSupply).toBeLessThan(0.001);
  });

  it('says what the ramps sheet says: the stop trips without its resistor, as soon as the capacitors are full', () => {
    const bare = run(change({ withResistor: false }));
    expect(bare.trip).toMatchObject({ kind: 'overvoltage' });
    // The sheet’s shortest stop and the plant agree within what its constant efficiency leaves open.
    const results = evaluateSpindle(grinder);
    const least = valueOf(results.shortestStop) ?? NaN;
    const stopFrom = (time: number) =>
      run(
        change(
          {
            withResistor: false,
            speeds: known([{ at: 0, toolSpeed: 2200 }]),
            load: known(undefined),
            stopAt: known(8),
            duration: known(20),
          },
          { settings: { ...grinder.settings, rampDown: known((time * 60) / 55) } },
        ),
      ).trip;
    expect(stopFrom(0.6 * least)).toMatchObject({ kind: 'overvoltage' });
    expect(stopFrom(1.5 * least)).toBeUndefined();
  });

  it('coasts where it is told to, as long as friction says', () => {
    const { recording } = run(
      change(
        { speeds: known([{ at: 0, toolSpeed: 1900 }]), load: known(undefined), stopAt: known(6), duration: known(16) },
        { settings: { ...grinder.settings, stopWay: 'coast' } },
      ),
    );
    expect(at(recording.current, 7)).toBe(0);
    const slope = (at(recording.speed, 7) - at(recording.speed, 10)) / 3;
    expect(slope).toBeCloseTo(((0.35 / (0.0028 + 0.012 / 2.25)) * 30) / Math.PI, 0);
  });

  it('a cut supply trips on undervoltage, and coming back does not start it', () => {
    const { recording, trip } = run(change({ supplyCut: { at: 5, until: 8 }, load: known(undefined) }));
    expect(trip).toMatchObject({ kind: 'undervoltage' });
    expect(trip?.at).toBeGreaterThan(5);
    expect(at(recording.busVolts, 9)).toBeCloseTo(325.3, 0);
    expect(at(recording.speed, 29)).toBe(0);
  });

  it('the ruin of the findings is the overcurrent of the plant', () => {
    const test = {
      speeds: known([{ at: 0, toolSpeed: 24000 }]),
      load: known(undefined),
      stopAt: known(20),
      duration: known(25),
    };
    const hf = (base: number): SpindleInput => {
      const input = highFrequency(400, base);
      return { ...input, runTest: { ...grinder.runTest, ...test } };
    };
    // Its current limit holds it near rest; without one it trips as it starts.
    const ruined = run(hf(50));
    expect(ruined.held).toBeGreaterThan(10);
    expect(Math.max(...ruined.recording.speed)).toBeLessThan(500);
    const { definition } = ruined;
    const unheld = { ...definition, holdCurrent: 1e9 };
    expect(runSpindle(unheld, [{ at: 0, kind: 'speed', hertz: 400 }], 5).trip).toMatchObject({ kind: 'overcurrent' });
    // Held for long enough, the protection ends it.
    expect(runSpindle(definition, [{ at: 0, kind: 'speed', hertz: 400 }], 120).trip).toMatchObject({
      kind: 'overload',
    });
    const right = run(hf(400));
    expect(right.trip).toBeUndefined();
    expect(right.held).toBe(0);
    expect(Math.max(...right.recording.speed)).toBeGreaterThan(23500);
  });

  it('waits for what is missing, and says for what', () => {
    const blind = { ...grinder, frictionTorque: unknown('the friction has not been entered') };
    expect(spindleDefinition(blind, evaluateSpindle(blind))).toMatchObject({
      because: 'the friction has not been entered',
    });
    const tooHigh = { ...grinder, supply: { ...grinder.supply, volts: known(400) } };
    expect(spindleDefinition(tooHigh, evaluateSpindle(tooHigh))).toMatchObject({
      because: expect.stringContaining('below its own DC bus at rest'),
    });
    const idle = change({ speeds: unknown('the run test has no speed') });
    expect(runTestEvents(idle, evaluateSpindle(idle))).toMatchObject({ because: 'the run test has no speed' });
  });
});
