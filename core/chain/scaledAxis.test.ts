import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { equals, exact, toNumber, type Exact } from '../quantity/index.ts';
import { known, valueOf } from '../sheet/index.ts';
import { rangeOf } from '../signal/index.ts';
import { carriage } from '../test/sampleAxis.ts';
import {
  analogSpeed,
  dutyPulses,
  dutySpeed,
  hostLoop,
  threePlaces,
  turntable,
  withCommand,
} from '../test/sampleCommands.ts';
import { evaluateAxis, probe, stationsOf, type AxisInput, type ScaledCommand } from './index.ts';

const numberOf = (axis: AxisInput, symbol: keyof ReturnType<typeof evaluateAxis>): number => {
  const value = valueOf(evaluateAxis(axis)[symbol] as { state: 'known'; value: unknown });
  return typeof value === 'number' ? value : toNumber(value as Parameters<typeof toNumber>[0]);
};

/** What leaves a station while a value leaves another. */
function probed(axis: AxisInput, from: string, value: Exact, to: string): Exact {
  const outcome = probe(stationsOf(axis, evaluateAxis(axis)), from, value)[to];
  if (outcome?.state !== 'known') throw new Error(`${to} is unknown`);
  return outcome.value;
}

describe('an axis commanded by a signal', () => {
  it('the turntable by hand: 300 rpm a volt, 250°/s at 10 V, 3.6 V for 90°/s', () => {
    expect(numberOf(turntable, 'signalGain')).toBe(300);
    // 3000 rpm are 50 turns a second; 72 of them turn the table once: 250°/s
    expect(numberOf(turntable, 'fullCommandSpeed')).toBeCloseTo(250, 9);
    expect(numberOf(turntable, 'signalAtWantedSpeed')).toBeCloseTo(3.6, 9);
    const slower = { ...turntable, motorTopSpeed: known(2400) };
    expect(valueOf(evaluateAxis(turntable).bindingLimits)).toEqual(['full command', 'motor speed']);
    expect(valueOf(evaluateAxis(slower).bindingLimits)).toEqual(['motor speed']);
    // 20 V in 4096 steps are 4.88 mV, 1.465 rpm: the controller is the coarser end
    expect(numberOf(turntable, 'valueStep')).toBeCloseTo((20 / 4096) * 300, 9);
    expect(valueOf(evaluateAxis(turntable).coarserEnd)).toEqual(['controller']);
  });

  it('the loop in the controller by hand', () => {
    // 2048 lines are 8192 counts a motor turn, 589 824 a turn of the table
    expect(numberOf(turntable, 'hostCountsPerUnit')).toBeCloseTo(589824 / 360, 9);
    expect(numberOf(turntable, 'encoderDivider')).toBe(128);
    expect(numberOf(turntable, 'encoderRateAtFullCommand')).toBeCloseTo(50 * 2048, 6);
    expect(numberOf(turntable, 'steadyLag')).toBeCloseTo(3, 9);
    expect(numberOf(turntable, 'errorOfOneStep')).toBeCloseTo(((20 / 4096) * 300 * (360 / 72)) / 60 / 30, 9);
    // caught at 30/s · 8° = 240°/s: 8 + 4.8 + 240²/3000 = 32°
    expect(numberOf(turntable, 'runawayDistance')).toBeCloseTo(32, 9);
  });

  it('a speed that nobody closes a position loop over has no following error', () => {
    expect(evaluateAxis(withCommand(analogSpeed)).steadyLag).toMatchObject({
      because: expect.stringContaining('no position loop is closed in the'),
    });
    expect(numberOf(withCommand({ ...analogSpeed, meaning: 'position' }), 'steadyLag')).toBeCloseTo(
      (1500 * 0.15) / 40,
      9,
    );
  });

  it('creep and its offset, as volts and as steps of the trim', () => {
    const creeping = withCommand({ ...analogSpeed, creep: known(0.6), trimStep: known(0.0005) });
    expect(numberOf(creeping, 'creepOffset')).toBeCloseTo(-0.002, 12);
    expect(numberOf(creeping, 'creepTrim')).toBe(-4);
  });

  it('duty cycles by common practice: an 8-bit generator over one turn of 4096 counts steps by about 16', () => {
    const position: ScaledCommand = {
      ...dutySpeed,
      meaning: 'position',
      fromSignal: known(exact(0)),
      toSignal: known(exact(100)),
      toValue: known(exact(360)),
      controllerSteps: known(256),
    };
    const axis = {
      ...turntable,
      stages: turntable.stages.map((s) => ({ ...s, wheelTeeth: known(exact(1)) }) as never),
    };
    const counts = { ...axis, encoderCycles: known(exact(4096)), command: position };
    const step = numberOf(counts, 'loadStep') / numberOf(counts, 'feedbackResolution');
    expect(step).toBeCloseTo(16, 9);
    // A 15-bit duty count ends at 32 767: 4096 counts over it.
    const fine = { ...position, pulses: { ...dutyPulses, rawFullScale: known(exact(32767)) } };
    const results = evaluateAxis({ ...counts, command: fine });
    expect(
      [valueOf(results.rawNumerator), valueOf(results.rawDenominator)].map((each) => each && toNumber(each)),
    ).toEqual([4096, 32767]);
  });

  it('a probe sent up and down again comes back exactly, through a live zero and an inversion', () => {
    const live: ScaledCommand = {
      ...analogSpeed,
      range: rangeOf('4–20 mA', 10),
      fromSignal: known(exact(4)),
      toSignal: known(exact(20)),
    };
    const kinds = [
      withCommand(live),
      withCommand({ ...live, meaning: 'position', toValue: known(exact(1850)) }),
      withCommand({ ...analogSpeed, meaning: 'torque', toValue: known(exact(300)) }),
      withCommand({ ...analogSpeed, toValue: known(exact(-3000)) }),
      { ...turntable, commandInverted: true },
      withCommand({ kind: 'choice', choice: threePlaces, storedMoves: undefined }),
    ];
    fc.assert(
      fc.property(fc.constantFrom(...kinds), fc.integer({ min: -5000, max: 5000 }), (axis, tenths) => {
        const value = exact(tenths, 10);
        for (const { id } of stationsOf(axis, evaluateAxis(axis))) {
          const there = probed(axis, 'load', value, id);
          expect(equals(probed(axis, id, there, 'load'), value), id).toBe(true);
        }
      }),
    );
  });

  it('4 mA is nothing, and 12 mA half: at the load, too', () => {
    const live: ScaledCommand = {
      ...analogSpeed,
      range: rangeOf('4–20 mA', 10),
      fromSignal: known(exact(4)),
      toSignal: known(exact(20)),
    };
    const at = (milliamps: number) => toNumber(probed(withCommand(live), 'controller', exact(milliamps), 'load'));
    // 1500 rpm through 3:1 and 320 mm a turn: 25/3 · 320
    expect(at(4)).toBe(0);
    expect(at(12)).toBeCloseTo((25 / 3) * 320, 9);
  });

  it('a torque at the load is force: 100 % of 2.39 N·m through 3:1 and 320 mm a turn', () => {
    const axis = withCommand({ ...analogSpeed, meaning: 'torque', toValue: known(exact(100)) });
    const force = toNumber(probed(axis, 'controller', exact(10), 'load'));
    // F = 2π · T · i / L
    expect(force).toBeCloseTo((2 * Math.PI * 2.39 * 3) / 0.32, 9);
    expect(stationsOf(axis, evaluateAxis(axis)).map(({ leaves }) => leaves)).toEqual([
      'V',
      '%',
      'N·m',
      'N·m',
      'N',
      'N',
    ]);
  });

  it('knows nothing of pulses, and pulses nothing of signals', () => {
    const results = evaluateAxis(turntable);
    expect(results.stepsPerUnit).toMatchObject({ state: 'unknown', because: 'this axis is not commanded by pulses' });
    expect(evaluateAxis(carriage).signalGain).toMatchObject({ state: 'unknown' });
    const wrong = withCommand({ ...analogSpeed, toSignal: known(exact(0)) });
    expect(evaluateAxis(wrong).signalGain).toMatchObject({
      because: 'the two points of the scale have the same signal',
    });
    expect(evaluateAxis(withCommand({ ...analogSpeed, hostLoop })).hostGain).toEqual(known(30));
  });

  it('a change of the command is computed as if it had always been so', () => {
    const chain = [
      carriage,
      turntable,
      withCommand(dutySpeed),
      withCommand({ kind: 'choice', choice: threePlaces, storedMoves: 8 }),
      carriage,
    ];
    let before: ReturnType<typeof evaluateAxis> | undefined;
    for (const axis of chain) {
      before = evaluateAxis(axis, before);
      expect(before).toEqual(evaluateAxis(axis));
    }
  });
});
