import { withValueAt, type AxisDocument } from '@kavrid/contract';
import { describe, expect, it } from 'vitest';
import { demoAxes as axes, demoAxis as axis } from '../test/screen.tsx';
import { prepareMoves, viewMoves } from './moveJob.ts';
import { blocksOf, thinTrace } from './thinTrace.ts';

const pointsIn = (curve: Float64Array | undefined) =>
  Array.from({ length: (curve?.length ?? 0) / 2 }, (_, k) => ({
    t: curve?.[2 * k] ?? NaN,
    v: curve?.[2 * k + 1] ?? NaN,
  }));

describe('thinTrace', () => {
  it('keeps every peak of a million samples, in order of time', () => {
    const channel = new Float64Array(1_000_000);
    channel[123_456] = 7;
    channel[777_777] = -9;
    const curve = pointsIn(thinTrace(channel, 0.001, 800));
    expect(curve.length).toBeLessThanOrEqual(800);
    expect(Math.max(...curve.map((p) => p.v))).toBe(7);
    expect(Math.min(...curve.map((p) => p.v))).toBe(-9);
    expect(curve.every((p, k) => k === 0 || p.t > (curve[k - 1]?.t ?? -1))).toBe(true);
    expect(pointsIn(thinTrace(channel, 0.001, 800, 123.4, 123.5)).find((p) => p.v === 7)?.t).toBeCloseTo(123.456, 9);
  });
});

describe('blocks', () => {
  it('give the same curve as every sample by itself, gaps included', () => {
    const channel = Float64Array.from({ length: 20_011 }, (_, k) =>
      k % 977 < 3 || (k > 6000 && k < 6400) ? NaN : Math.sin(k / 300) + ((k * 7919) % 1000) / 5000,
    );
    const blocks = blocksOf(channel);
    const windows = [
      [0, 20.011],
      [1.234, 17.9],
      [5.9, 6.5],
    ] as const;
    for (const [from, to] of windows)
      expect(thinTrace(channel, 0.001, 60, from, to, blocks)).toEqual(thinTrace(channel, 0.001, 60, from, to));
    // A sample that is missing hides no peak beside it.
    channel[100] = 9;
    channel[99] = NaN;
    expect(Math.max(...pointsIn(thinTrace(channel, 0.001, 200, 0.099, 0.9)).map(({ v }) => v))).toBe(9);
  });
});

describe('predicted moves', () => {
  it('predicts the demo’s test move: reaches its speed and its far end, and lags as speed over gain does', () => {
    const result = viewMoves(prepareMoves({ axis, measured: undefined }), { points: 600 });
    expect(result.because).toBeUndefined();
    expect(result.tripped).toBe(false);
    // 800/1200 + 1200/4000 + 4000/40000 = 1.0667 s a move, by hand
    expect(result.moves[0]?.[1]).toBeCloseTo(1.06667, 4);
    expect(Math.max(...pointsIn(result.predicted?.actualPosition).map((p) => p.v))).toBeCloseTo(1000, 0);
    expect(result.predictedFigures?.peakSpeed).toBeCloseTo(1200, -2);
    // (1 − 0.85) · 1200 / 40 = 4.5 mm in steady motion; torque ripple adds a little
    expect(result.predictedFigures?.peakFollowingError).toBeGreaterThan(4.3);
    expect(result.predictedFigures?.peakFollowingError).toBeLessThan(6);
  });

  it('says why there is no prediction', () => {
    expect(
      prepareMoves({ axis: { ...axis, gear: { ...axis.gear, numerator: '', denominator: '1' } }, measured: undefined })
        .because,
    ).toContain('gear numerator');
  });
});

describe('a move whose position loop is closed in the controller', () => {
  const table = axes.find(({ command }) => command.kind === 'analog');
  if (!table) throw new Error('the demo has no analog axis');
  const predicted = (axis: AxisDocument) => prepareMoves({ axis, measured: undefined });

  it('lags by speed over the controller’s gain, and goes where it is sent', () => {
    const moves = predicted(table);
    expect(moves.tripped).toBe(false);
    const { actualPosition, followingError } = moves.predicted ?? { actualPosition: [], followingError: [] };
    // 80°/s over 30/s
    expect(Math.max(...followingError)).toBeCloseTo(80 / 30, 1);
    expect(Math.max(...actualPosition)).toBeCloseTo(180, 0);
    expect(Math.abs(actualPosition.at(-1) ?? NaN)).toBeLessThan(0.1);
  });

  it('runs away and trips where the feedback counts backwards, as far as was said', () => {
    const moves = predicted(withValueAt(table, ['command', 'loop', 'feedbackInverted'], true));
    expect(moves.tripped).toBe(true);
    // 32° at the worst, with 8° of error allowed; the demanded way is part of it.
    const gone = Math.abs(moves.predicted?.actualPosition.at(-1) ?? NaN);
    expect(gone).toBeGreaterThan(20);
    expect(gone).toBeLessThan(35);
  });

  it('says what is missing', () => {
    expect(predicted(withValueAt(table, ['command', 'loop', 'gain'], null)).because).toContain(
      'gain of the controller’s loop',
    );
    expect(predicted(withValueAt(table, ['command', 'driveBits'], null)).because).toContain(
      'bits of the drive’s input',
    );
  });

  it('a drive that makes its own profile needs no steps per unit', () => {
    const stop = axes.find(({ command }) => command.kind === 'choice');
    if (!stop) throw new Error('the demo has no picked moves');
    const moves = predicted(stop);
    expect(moves.because).toBeUndefined();
    expect(Math.max(...(moves.predicted?.actualPosition ?? []))).toBeCloseTo(85, 0);
  });
});
