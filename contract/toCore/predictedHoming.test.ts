import { readFileSync } from 'node:fs';
import { evaluateAxis } from '@kavrid/core/chain';
import { describe, expect, it } from 'vitest';
import { axesAmong, machineFileSchema, predictedHoming, axisInputOf, type AxisDocument } from '../index.ts';
import { homingTimeOut } from './predictedHoming.ts';

const demo = machineFileSchema.parse(JSON.parse(readFileSync('demo/tile-glazing-cell.json', 'utf8')));
const axes = axesAmong(demo.axes);
const carriage = axes.find(({ name }) => name === 'Carriage') as AxisDocument;
const predict = (axis: AxisDocument) => {
  const results = evaluateAxis(axisInputOf(axis).input);
  return { predicted: predictedHoming(axis, results), timeOut: homingTimeOut(axis, results) };
};

describe('predicted homing', () => {
  it('is an upper bound: following error crept back, the index pulse a whole turn away', () => {
    // By hand: 1850 at 120, a lag of 0.15/40 s, the way past the switch and a turn of 320/3 mm at 12.
    const { predicted, timeOut } = predict(carriage);
    if (predicted.state === 'unknown') throw new Error(predicted.because);
    const { searchSpeed, creepSpeed, acceleration } = carriage.homing;
    const [v, creep, a] = [searchSpeed ?? 0, creepSpeed ?? 0, acceleration ?? 0];
    const lag = 0.15 / 40;
    const overrun = v * (lag + 0.001) + v ** 2 / (2 * a);
    expect(predicted.value.longest.overrun).toBeCloseTo(overrun, 6);
    const travel = Number.parseFloat(carriage.motion.travel);
    const byHand = travel / v + v / a + overrun / creep + 320 / 3 / creep;
    expect(predicted.value.longest.seconds).toBeGreaterThan(byHand);
    expect(predicted.value.longest.seconds).toBeLessThan(byHand + 1);
    expect(timeOut).toBe(Math.ceil(1.2 * predicted.value.longest.seconds));
    const slow = {
      ...carriage,
      homing: { ...carriage.homing, minusStop: null },
      settings: { ...carriage.settings, positionGain: 5, velocityFeedforward: 0 },
    };
    // It would run against the hard stop 20 mm behind the limit.
    const held = predict({ ...slow, homing: carriage.homing }).predicted;
    expect(held).toMatchObject({ value: { longest: { because: 'it runs against the hard stop' } } });
    const slower = predict(slow).predicted;
    expect(slower.state === 'known' && slower.value.longest.overrun).toBeCloseTo(
      v * (0.2 + 0.001) + v ** 2 / (2 * a),
      6,
    );
  });

  it('says what is missing, and that the following error is left out where no gain is planned', () => {
    const homing = (changes: Partial<AxisDocument['homing']>): AxisDocument => ({
      ...carriage,
      homing: { ...carriage.homing, ...changes },
    });
    for (const [changes, path] of [
      [{ searchSpeed: null }, '/homing/searchSpeed'],
      [{ creepSpeed: 0 }, '/homing/creepSpeed'],
      [{ acceleration: null }, '/homing/acceleration'],
      [{ method: 7, homeSwitchFrom: null }, '/homing/homeSwitchFrom'],
      [{ method: 7, homeSwitchLength: null }, '/homing/homeSwitchLength'],
      [{ method: 37 }, '/homing/method'],
    ] as const)
      expect(predict(homing(changes))).toMatchObject({ predicted: { state: 'unknown', path }, timeOut: undefined });
    const without = { ...carriage, settings: { ...carriage.settings, positionGain: null } };
    expect(predict(without).predicted).toMatchObject({ value: { isWithoutLag: true } });
    // A home switch outside the travel is never met.
    const lost = predict(homing({ method: 7, homeSwitchFrom: 5000, homeSwitchLength: 10 }));
    expect(lost.predicted).toMatchObject({ value: { longest: { because: expect.stringContaining('minus limit') } } });
    expect(lost.timeOut).toBeUndefined();
  });

  it('knows the loop in the controller', () => {
    const looped = axes.find(({ command }) => command.kind === 'analog') as AxisDocument;
    const changed = {
      ...looped,
      homing: { ...looped.homing, method: 17 as const, searchSpeed: 10, creepSpeed: 1, acceleration: 100 },
    };
    const { predicted } = predict(changed);
    expect(predicted.state === 'unknown' ? predicted.because : predicted.value.isWithoutLag).toBe(false);
  });
});
