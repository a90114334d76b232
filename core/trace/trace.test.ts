import { mean, rootMeanSquare, standardDeviation } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { parkMiller } from '../test/stiffLoops.ts';
import {
  cycleOf,
  cycleRms,
  speedNoise,
  moveMeasures,
  peaksOf,
  rampTimes,
  spectrumOf,
  tooQuickFor,
  triggerOf,
  windowMeasures,
  type Spectrum,
} from './index.ts';

/** The step of a second-order system by its closed form (Ogata, Modern Control Engineering, chapter on transient response; from memory). */
const secondOrder = (damping: number, natural: number) => {
  const root = Math.sqrt(1 - damping ** 2);
  const damped = natural * root;
  const phase = Math.acos(damping);
  return {
    at: (t: number) => (t <= 0 ? 0 : 1 - (Math.exp(-damping * natural * t) / root) * Math.sin(damped * t + phase)),
    overshoot: Math.exp((-Math.PI * damping) / root),
    damped: damped / (2 * Math.PI),
    /** s after which the envelope stays within a share */
    settles: (share: number) => -Math.log(share * root) / (damping * natural),
  };
};

const sampled = (count: number, at: (k: number) => number) => Float64Array.from({ length: count }, (_, k) => at(k));

describe('measures of a window', () => {
  it('are those of an independent library, also far from zero, and leave out what is missing', () => {
    const values = sampled(1001, (k) => 1e6 + Math.sin(k) + 0.1 * Math.cos(7 * k));
    const some = [...values.subarray(100, 900)];
    const measures = windowMeasures(values, 100, 900);
    expect(measures?.mean).toBeCloseTo(mean(some), 8);
    expect(measures?.rms).toBeCloseTo(rootMeanSquare(some), 6);
    expect(measures?.standardDeviation).toBeCloseTo(standardDeviation(some), 9);
    expect(measures?.least).toBe(Math.min(...some));
    values[500] = NaN;
    expect(windowMeasures(values, 400, 600)).toMatchObject({ count: 199, missing: 1 });
    expect(windowMeasures(values, 500, 501)).toBeUndefined();
    expect(windowMeasures(Float64Array.of(-3, 2))?.peak).toBe(3);
  });
});

describe('a spectrum', () => {
  it('gives frequency and amplitude of sines over a slope, apart from each other', () => {
    const [period, count] = [0.001, 3000];
    const values = sampled(
      count,
      (k) => 5 + 0.002 * k + 0.8 * Math.sin(2 * Math.PI * 47.3 * k * period) + 0.1 * Math.sin(690 * k * period),
    );
    const spectrum = spectrumOf(values, period) as Spectrum;
    const [first, second] = peaksOf(spectrum);
    expect(first?.hertz).toBeCloseTo(47.3, 1);
    expect(first?.amplitude).toBeCloseTo(0.8, 2);
    expect(second?.hertz).toBeCloseTo(690 / (2 * Math.PI), 1);
    expect(second?.amplitude).toBeCloseTo(0.1, 2);
    expect(spectrum.resolution).toBeCloseTo(1 / 3, 9);
    values[1500] = NaN;
    expect(peaksOf(spectrumOf(values, period) as Spectrum)[0]?.hertz).toBeCloseTo(47.3, 1);
    expect(spectrumOf(values.subarray(0, 15), period)).toBeUndefined();
  });
});

describe('a trigger', () => {
  it('is where a channel crosses a level, between two samples, not over a gap', () => {
    const values = Float64Array.of(0, 1, 2, 1, 0, NaN, 4, 0, 3);
    expect(triggerOf(values, { level: 1.5, edge: 'rising', nth: 1 })).toBe(1.5);
    expect(triggerOf(values, { level: 1.5, edge: 'rising', nth: 2 })).toBe(7.5);
    expect(triggerOf(values, { level: 1, edge: 'falling', nth: 1 })).toBe(3);
    expect(triggerOf(values, { level: 1, edge: 'rising', nth: 3 })).toBeUndefined();
    expect(triggerOf(values, { level: 9, edge: 'rising', nth: 1 })).toBeUndefined();
  });
});

describe('measures of a move', () => {
  it.each([0.2, 0.5, 0.7])('follow the closed form of a second-order step at a damping of %s', (damping) => {
    const [period, distance, begin] = [0.0005, -40, 200];
    const system = secondOrder(damping, 60);
    const demandPosition = sampled(4000, (k) => (k > begin ? distance : 0));
    const actualPosition = sampled(4000, (k) => distance * system.at((k - begin - 1) * period));
    const [move, ...more] = moveMeasures(
      {
        period,
        demandPosition,
        actualPosition,
        actualSpeed: sampled(4000, () => 0),
        followingError: demandPosition.map((each, k) => each - (actualPosition[k] ?? 0)),
        torque: sampled(4000, () => 0),
      },
      0.02 * Math.abs(distance),
    );
    expect(more).toEqual([]);
    expect(move?.distance).toBe(distance);
    expect(move?.overshoot).toBeCloseTo(system.overshoot * Math.abs(distance), 1);
    // The response itself settles within the last half period before its envelope does.
    const latest = system.settles(0.02);
    expect(move?.settlingTime).toBeLessThanOrEqual(latest + 2 * period);
    expect(move?.settlingTime).toBeGreaterThan(latest - 0.6 / system.damped);
    // 10 to 90 % by bisection of the closed form.
    const when = (share: number) => {
      let [low, high] = [0, Math.PI / (60 * Math.sqrt(1 - damping ** 2))];
      for (let k = 0; k < 60; k++) {
        const middle = (low + high) / 2;
        if (system.at(middle) < share) low = middle;
        else high = middle;
      }
      return low;
    };
    expect(move?.riseTime).toBeCloseTo(when(0.9) - when(0.1), 4);
  });

  it('tell the error while accelerating from that at speed and at stop', () => {
    const period = 0.001;
    // 100 mm/s reached in 0.1 s at 1000 mm/s², 0.3 s at speed.
    const speedAt = (t: number) => Math.max(0, Math.min(1000 * t, 100, 100 - 1000 * (t - 0.4)));
    let position = 0;
    const demandPosition = sampled(700, (k) => {
      const t = (k - 50) * period;
      position += (t <= 0 ? 0 : speedAt(t)) * period;
      return position;
    });
    // The error is 5 ms of speed and 0.3 ms² of acceleration.
    const followingError = sampled(700, (k) => {
      const t = (k - 50) * period;
      if (t < 0 || t > 0.5) return 0.01;
      return 0.005 * speedAt(t) + (t < 0.1 ? 0.3 : t > 0.4 ? -0.3 : 0);
    });
    const [move] = moveMeasures(
      {
        period,
        demandPosition,
        followingError,
        actualPosition: demandPosition.map((each, k) => each - (followingError[k] ?? 0)),
        actualSpeed: sampled(700, (k) => speedAt((k - 50) * period)),
        torque: sampled(700, () => 0),
      },
      0.02,
    );
    expect(move?.errorAtSpeed).toBeCloseTo(0.5, 1);
    expect(move?.errorAccelerating).toBeGreaterThan(0.75);
    expect(move?.errorAtStop).toBe(0.01);
    expect(move?.peakSpeed).toBe(100);
    expect(rampTimes(demandPosition, period, move ? [move] : [])[0]).toBeCloseTo(0.1, 1);
  });
});

describe('a trace that is too slow', () => {
  it('names what it cannot show', () => {
    // 1 kHz: a ramp of 3 ms and 250 Hz have fewer than five samples; 600 Hz lie beyond half the sample rate.
    expect(tooQuickFor(0.001, [0.003, 0.1], 250, 600).map(({ what }) => what)).toEqual([
      'ramp',
      'oscillation',
      'resonance',
    ]);
    expect(tooQuickFor(0.001, [0.05], 100, 400)).toEqual([]);
    expect(tooQuickFor(0.001, [], undefined, undefined)).toEqual([]);
  });

  it('tells the noise of a measured speed as three standard deviations while the demand is steady', () => {
    const count = 4000;
    const random = parkMiller(5);
    // Twelve uniform numbers, less six: nearly normal, with a standard deviation of 1.
    const normal = () => Array.from({ length: 12 }, random).reduce((sum, each) => sum + each, -6);
    const demand = Float64Array.from({ length: count }, (_, k) => (k < 1000 ? 0.05 * k : 50 + 0.1 * (k - 1000)));
    const speed = Float64Array.from({ length: count }, (_, k) => (k < 1000 ? 50 : 100) + 2 * normal());
    expect(Math.abs((speedNoise(demand, speed, 0.001) ?? NaN) / 6 - 1)).toBeLessThan(0.1);
    expect(speedNoise(new Float64Array(count), speed, 0.001)).toBeUndefined();
  });

  it('finds the cycle that moves repeat, and the RMS over whole cycles alone', () => {
    const move = (from: number, distance: number) =>
      ({ from, to: from + 0.4, distance }) as Parameters<typeof cycleOf>[0][number];
    // Out, further out, back: every 3 s, from 0.5 s on.
    const each = (k: number) => [move(0.5 + 3 * k, 100), move(1.2 + 3 * k, 50), move(2 + 3 * k, -150)];
    const moves = [0, 1, 2].flatMap(each);
    // The third cycle is not whole: nothing says where it ends.
    expect(cycleOf(moves)).toEqual({ from: 0.5, to: 6.5, period: 3, cycles: 2, moves: 3 });
    expect(cycleOf(moves.slice(0, 3))).toBeUndefined();
    expect(cycleOf(moves.map((one, k) => (k === 4 ? move(one.from, 70) : one)))).toBeUndefined();
    expect(cycleOf(moves.map((one, k) => (k === 3 ? move(one.from + 1, 100) : one)))).toBeUndefined();
    // 30 % for a third of each cycle, 90 % outside of every cycle: √(30²/3).
    const torque = Float64Array.from({ length: 9000 }, (_, k) =>
      k < 500 || k >= 6500 ? 90 : (k - 500) % 3000 < 1000 ? 30 : 0,
    );
    const cycle = cycleOf(moves);
    expect(cycle && cycleRms(torque, 0.001, cycle)).toBeCloseTo(Math.sqrt(300), 9);
  });
});
