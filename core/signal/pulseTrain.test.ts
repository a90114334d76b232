import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'vcd-parser';
import { moveSample, planMove, sampleMove } from '../motion/index.ts';
import { countedBy, PulseTrain, pulseForms, pulseTrainToVcd, type PulseForm, type VcdOrder } from './index.ts';

const stepsPerUnit = 100;
// 50 mm at 100 mm/s and 1000 mm/s²: 0.1 s and 5 mm to speed up, 0.4 s at speed.
const move = planMove(50, { speed: 100, acceleration: 1000 });
const timesOf = (train: PulseTrain) => {
  const times: number[] = [];
  train.each(1, train.count, (_, time) => times.push(time) > 0);
  return times;
};

describe('a pulse train', () => {
  const times = timesOf(new PulseTrain(move, stepsPerUnit));

  it('has a pulse for each increment, at the moments of the closed form: √(2 · s / a), then evenly', () => {
    expect(times).toHaveLength(5000);
    expect(times[0]).toBeCloseTo(Math.sqrt((2 * 0.5) / stepsPerUnit / 1000), 10);
    expect(times[300]).toBeCloseTo(Math.sqrt((2 * 300.5) / stepsPerUnit / 1000), 10);
    expect(times[600]).toBeCloseTo(0.1 + (600.5 / stepsPerUnit - 5) / 100, 10);
    // Braking mirrors speeding up.
    expect((times[4999] ?? 0) + (times[0] ?? 0)).toBeCloseTo(move.duration, 9);
    expect(times.every((time, k) => k === 0 || time > (times[k - 1] ?? Infinity))).toBe(true);
  });

  it('follows an S-curve with its half increment, both ways', () => {
    const limits = { speed: 80, acceleration: 900, jerk: 20000 };
    const there = timesOf(new PulseTrain(planMove(12, limits), 400));
    expect(there).toHaveLength(4800);
    expect(timesOf(new PulseTrain(planMove(-12, limits), 400))).toEqual(there);
    // At first only the jerk acts: s = j · t³ / 6.
    expect(there[2]).toBeCloseTo(Math.cbrt((6 * 2.5) / 400 / 20000), 9);
  });

  it('whatever the move, each pulse falls where the move has gone its half increment', () => {
    const limit = (most: number) => fc.double({ min: most / 1000, max: most, noNaN: true });
    fc.assert(
      fc.property(
        fc.double({ min: -300, max: 300, noNaN: true }).filter((distance) => Math.abs(distance) > 0.1),
        limit(500),
        limit(5000),
        fc.option(limit(50000), { nil: undefined }),
        fc.integer({ min: 1, max: 400 }),
        (distance, speed, acceleration, jerk, steps) => {
          const profile = planMove(distance, { speed, acceleration, jerk });
          const train = new PulseTrain(profile, steps);
          const sample = moveSample();
          let last = -1;
          train.each(1, Math.min(train.count, 400), (increment, time) => {
            const { position } = sampleMove(profile, time, sample);
            expect(Math.abs(Math.abs(position) * steps - (increment - 0.5))).toBeLessThan(1e-3);
            expect(time).toBeGreaterThan(last);
            last = time;
            return true;
          });
          expect(last).toBeLessThanOrEqual(profile.duration);
        },
      ),
    );
  });

  it('is found at any time, and refuses what cannot be', () => {
    const train = new PulseTrain(move, stepsPerUnit);
    expect([train.firstAfter(-1), train.firstAfter(0), train.firstAfter(0.3), train.firstAfter(9)]).toEqual([
      1, 1, 2501, 5001,
    ]);
    expect(() => new PulseTrain(move, 0)).toThrow(RangeError);
  });
});

const textOf = (order: VcdOrder, chunkBytes?: number) => {
  let text = '';
  for (const { bytes } of pulseTrainToVcd(order, chunkBytes)) text += new TextDecoder().decode(bytes);
  return text;
};
const orderOf = (form: PulseForm, isMinus: boolean, changes: Partial<VcdOrder> = {}): VcdOrder => ({
  train: new PulseTrain(planMove(2, { speed: 50, acceleration: 2000 }), stepsPerUnit),
  form,
  isMinus,
  pulseWidth: undefined,
  from: 0,
  to: 1,
  ...changes,
});

describe('value change dump, read by an independent parser (package vcd-parser)', () => {
  it.each(pulseForms.flatMap((form) => [[form, false] as const, [form, true] as const]))(
    '%s, minus %s: its lines say 200 increments',
    async (form, isMinus) => {
      const parsed = await parse(textOf(orderOf(form, isMinus), 512));
      expect(parsed.timescale.replace(' ', '')).toBe('1ns');
      const waves = parsed.signal.map(({ wave }) => wave.map(([at, level]) => [Number(at), level === '1'] as const));
      const times = [...new Set(waves.flat().map(([at]) => at))].sort((a, b) => a - b);
      const levelAt = (line: number, time: number) => waves[line]?.findLast(([at]) => at <= time)?.[1] ?? false;
      const counted = countedBy(
        form,
        times.map((time) => [levelAt(0, time), levelAt(1, time)]),
      );
      expect(counted).toBe(isMinus ? -200 : 200);
      expect(times.every((time, k) => k === 0 || time > (times[k - 1] ?? Infinity))).toBe(true);
    },
  );

  it('pulses are as wide as ordered, but never longer than half the way to the next', async () => {
    const widths = async (pulseWidth: number | undefined) => {
      const parsed = await parse(textOf(orderOf('stepDirection', false, { pulseWidth })));
      const wave = parsed.signal[0]?.wave.map(([at]) => Number(at)) ?? [];
      return [(wave[2] ?? 0) - (wave[1] ?? 0), (wave[4] ?? 0) - (wave[3] ?? 0)];
    };
    expect(await widths(5e-6)).toEqual([5000, 5000]);
    const [first = 0, second = 0] = await widths(undefined);
    // By hand: pulses at √(s / 1000) for s of 0.005, 0.015, 0.025 mm; half of the ways between.
    const at = [0.005, 0.015, 0.025].map((s) => Math.sqrt((2 * s) / 2000) * 1e9);
    expect(first).toBeCloseTo(((at[1] ?? 0) - (at[0] ?? 0)) / 2, -1);
    expect(second).toBeCloseTo(((at[2] ?? 0) - (at[1] ?? 0)) / 2, -1);
  });

  it('a window shows its part with the levels it begins at', async () => {
    const whole = await parse(textOf(orderOf('quadrature', false)));
    const part = await parse(textOf(orderOf('quadrature', false, { from: 0.02, to: 0.04 })));
    for (const line of [0, 1]) {
      const inside = whole.signal[line]?.wave.filter(([at]) => Number(at) >= 2e7 && Number(at) < 4e7) ?? [];
      expect(part.signal[line]?.wave.slice(1).map(([at]) => Number(at) + 2e7)).toEqual(
        inside.map(([at]) => Number(at)),
      );
      const before = whole.signal[line]?.wave.findLast(([at]) => Number(at) < 2e7)?.[1];
      expect(part.signal[line]?.wave[0]?.[1]).toBe(before);
    }
  });

  it('windows put one after another have the edges of the whole', () => {
    const edgesOf = (text: string, line: string) => text.split('\n').filter((each) => each === `1${line}`).length;
    const whole = textOf(orderOf('clockwisePulses', true));
    const cuts = fc.array(fc.double({ min: 0.001, max: 0.06, noNaN: true }), { maxLength: 4 });
    fc.assert(
      fc.property(cuts, (times) => {
        const places = [0, ...[...times].sort((a, b) => a - b), 1];
        const parts = places.slice(1).map((to, k) => textOf(orderOf('clockwisePulses', true, { from: places[k], to })));
        expect(parts.reduce((sum, part) => sum + edgesOf(part, '"'), 0)).toBe(edgesOf(whole, '"'));
        expect(parts.every((part) => edgesOf(part, '!') === 0)).toBe(true);
      }),
      { numRuns: 30 },
    );
  });

  it('a million pulses flow through in constant memory, with progress, and stop when nobody takes more', () => {
    // At up to 2.8 MHz; the benchmark writes a whole minute at 4 MHz.
    const train = new PulseTrain(planMove(250, { speed: 1000, acceleration: 2000 }), 4000);
    const order = orderOf('stepDirection', false, { train, pulseWidth: 1e-7, to: 2 });
    let [bytes, done, largest] = [0, 0, 0];
    for (const chunk of pulseTrainToVcd(order)) {
      bytes += chunk.bytes.length;
      largest = Math.max(largest, chunk.bytes.length);
      expect(chunk.done).toBeGreaterThanOrEqual(done);
      done = chunk.done;
    }
    // A million pulses of two edges, each `#` + time + newline + `1!` + newline: 12 to 15 bytes.
    expect(train.count).toBe(1_000_000);
    expect(bytes / (2 * train.count)).toBeGreaterThan(12);
    expect(bytes / (2 * train.count)).toBeLessThan(15);
    expect(done).toBe(1);
    expect(largest).toBeLessThanOrEqual(1 << 16);
    const cancelled = pulseTrainToVcd(order);
    cancelled.next();
    cancelled.return();
    expect(cancelled.next().done).toBe(true);
  });
});
