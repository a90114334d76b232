import { packSamples, type Channel, type Trace } from '@kavrid/contract';
import { describe, expect, it } from 'vitest';
import { demoAxis } from '../test/screen.tsx';
import { measureTraces, viewTraces, type MeasureView, type TraceView } from './traceJob.ts';
import { tracePrediction } from './tracePrediction.ts';

const channel = (id: string): Channel => ({ id, label: id, unit: '', scale: 1, format: 'float64' });
const ids = ['demandPosition', 'actualPosition', 'followingError'];

/** A ramp from 0 to `distance` mm in 0.1 s after 0.1 s, followed 1 mm behind, with a tremor of 50 Hz. */
function ramp(distance: number, period = 0.001): Trace {
  const demand = Float64Array.from({ length: Math.round(0.4 / period) }, (_, k) =>
    Math.min(distance, Math.max(0, (k * period - 0.1) * 10 * distance)),
  );
  const error = demand.map((each, k) =>
    each > 0 && each < distance ? 1 : 0.1 * Math.sin(2 * Math.PI * 50 * k * period),
  );
  const channels = ids.map(channel);
  const planes = [demand, demand.map((each, k) => each - (error[k] ?? 0)), error];
  return { header: { period, count: demand.length, channels }, samples: packSamples(channels, planes) };
}

const view: TraceView = {
  channels: ids,
  over: 'time',
  window: undefined,
  trigger: undefined,
  cursors: [undefined, undefined],
  points: 100,
};
const measure: MeasureView = {
  channels: ids,
  window: undefined,
  trigger: undefined,
  spectrum: 'followingError',
  resonance: null,
};

describe('traces laid over each other', () => {
  it('start at their triggers, each its own, and are read at both cursors', () => {
    const sources = [
      { id: 'a', trace: ramp(100) },
      { id: 'b', trace: ramp(50) },
    ];
    const trigger = { channel: 'demandPosition', level: 50, edge: 'rising', nth: 1 } as const;
    const { traces, whole } = viewTraces(sources, { ...view, trigger, cursors: [0, 0.02] });
    // 50 mm of 100 are reached in the middle of the ramp; of 50 at its end.
    expect(traces.map(({ isUntriggered }) => isUntriggered)).toEqual([false, false]);
    expect(whole[0]).toBeCloseTo(-0.2, 3);
    expect(whole[1]).toBeCloseTo(0.249, 3);
    expect(traces[0]?.atCursors.demandPosition?.[0]).toBeCloseTo(50, 6);
    expect(traces[0]?.atCursors.demandPosition?.[1]).toBeCloseTo(70, 6);
    expect(traces[1]?.atCursors.demandPosition).toEqual([50, 50]);
    expect(traces[0]?.curves.actualPosition?.[0]).toBeCloseTo(-0.15, 3);
    const never = viewTraces(sources, { ...view, trigger: { ...trigger, level: 60 } });
    expect(never.traces.map(({ isUntriggered }) => isUntriggered)).toEqual([false, true]);
  });

  it('have their zero at the trigger of the recording, with what was recorded before it', () => {
    const { header, samples } = ramp(100);
    const late = { id: 'a', trace: { header: { ...header, before: 100 }, samples } };
    const { traces, whole } = viewTraces([late], { ...view, window: [-0.02, 0.05], cursors: [-0.05, 0.05] });
    // The ramp begins with sample 100: half of it is gone 0.05 s after it.
    expect([whole[0], whole[1]]).toEqual([-0.1, expect.closeTo(0.299, 9)]);
    expect(traces[0]?.atCursors.demandPosition).toEqual([0, expect.closeTo(50, 6)]);
    expect(traces[0]?.curves.demandPosition?.[0]).toBeCloseTo(-0.02, 9);
    const [measured] = measureTraces([late], demoAxis, { ...measure, window: [-0.1, 0.05] });
    expect(measured?.channels.demandPosition).toMatchObject({ least: 0, greatest: expect.closeTo(50, 6) as number });
    expect(measureTraces([late], demoAxis, measure)[0]?.moves[0]?.from).toBeCloseTo(0, 2);
  });

  it('are drawn over the position, with no peak lost', () => {
    const { traces, along } = viewTraces([{ id: 'a', trace: ramp(100) }], { ...view, over: 'position', points: 60 });
    const curve = traces[0]?.curves.followingError ?? new Float64Array();
    const errors = curve.filter((_, k) => k % 2 === 1);
    expect(Math.max(...errors)).toBeCloseTo(1, 9);
    expect(along?.[1]).toBeCloseTo(100.1, 6);
  });

  it('are measured over the window alone, with the moves and the frequency that stands out', () => {
    const sources = [{ id: 'a', trace: ramp(100) }];
    const [all] = measureTraces(sources, demoAxis, measure);
    expect(all?.channels.followingError?.peak).toBeCloseTo(1, 9);
    expect(all?.moves).toHaveLength(1);
    expect(all?.moves[0]).toMatchObject({ distance: 100, errorAtSpeed: 1 });
    const [rest] = measureTraces(sources, demoAxis, { ...measure, window: [0.22, 0.38] });
    expect(rest?.moves).toEqual([]);
    expect(rest?.channels.followingError?.peak).toBeLessThan(0.101);
    expect(rest?.channels.followingError?.ripple?.hertz).toBeCloseTo(50, 0);
    expect(rest?.channels.followingError?.ripple?.amplitude).toBeCloseTo(0.1, 2);
    expect(rest?.tooQuick).toEqual([]);
  });

  it('say what they are too slow for', () => {
    // 50 Hz at 5 ms: four samples a period; a resonance of 180 Hz cannot be seen at all.
    const [slow] = measureTraces([{ id: 'a', trace: ramp(100, 0.005) }], demoAxis, {
      ...measure,
      window: [0.21, 0.4],
      resonance: 180,
    });
    expect(slow?.tooQuick.map(({ what }) => what)).toEqual(['oscillation', 'resonance']);
  });

  it('have a prediction made from the demand that was recorded, where it is no test move', () => {
    const made = tracePrediction(demoAxis, ramp(40), { isWhole: true, isTestMove: false });
    if ('because' in made) throw new Error(made.because);
    const demand = viewTraces([made], { ...view, cursors: [0.15, 0.35] }).traces[0]?.atCursors.demandPosition;
    expect(demand?.[0]).toBeCloseTo(20, 0);
    expect(demand?.[1]).toBeCloseTo(40, 1);
    const still = tracePrediction(demoAxis, ramp(0), { isWhole: true, isTestMove: false });
    expect(still).toEqual({ because: 'no move from one rest to another was recorded' });
  });
});
