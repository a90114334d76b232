import { describe, expect, it } from 'vitest';
import { frequencyResponse, resonanceIn } from './index.ts';

const [dt, every] = [1 / 8000, 8];

/** Numbers from 0 to 1, the same every time. */
function noise(seed: number) {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

/** Two masses under a speed loop of P, excited by a sine of the speed from 2 to 400 Hz in 10 s; sampled at 1 kHz. */
function measured({ disturbance = 0, stiffness = 400 } = {}) {
  const [jm, jl, damping, gain] = [1e-3, 3e-3, 0.02, 0.6];
  const random = noise(7);
  let [motor, load, twist] = [0, 0, 0];
  const seconds = 10;
  const count = Math.round((seconds + 0.5) / (dt * every));
  const signals = {
    reference: new Float64Array(count),
    torque: new Float64Array(count),
    speed: new Float64Array(count),
  };
  const ratio = Math.log(400 / 2);
  for (let k = 0; k < count * every; k++) {
    const share = Math.min(1, (k * dt) / seconds);
    const phase = ((2 * Math.PI * 2 * seconds) / ratio) * (Math.exp(ratio * share) - 1);
    const fade = Math.min(1, share / 0.05, (1 - share) / 0.05);
    const reference = fade * Math.sin(phase);
    const torque = gain * (reference - motor);
    if (k % every === 0) {
      signals.reference[k / every] = reference;
      signals.torque[k / every] = torque;
      signals.speed[k / every] = motor;
    }
    const coupling = stiffness * twist + damping * (motor - load);
    motor += ((torque + disturbance * (random() - 0.5) - coupling) / jm) * dt;
    load += (coupling / jl) * dt;
    twist += (motor - load) * dt;
  }
  /** Speed over torque by its closed form: (J_l·s² + c·s + k)/(s·(J_m·J_l·s² + (J_m + J_l)·(c·s + k))). */
  const plant = (hertz: number) => {
    const w = 2 * Math.PI * hertz;
    const [nr, ni] = [stiffness - jl * w * w, damping * w];
    const [dr, di] = [-(jm + jl) * damping * w * w, w * ((jm + jl) * stiffness - jm * jl * w * w)];
    const size = dr * dr + di * di;
    const [re, im] = [(nr * dr + ni * di) / size, (ni * dr - nr * di) / size];
    return { gain: Math.hypot(re, im), phase: (180 / Math.PI) * Math.atan2(im, re) };
  };
  // √(k·(J_m + J_l)/(J_m·J_l)), the closed form of two masses.
  const resonance = Math.sqrt((stiffness * (jm + jl)) / (jm * jl)) / (2 * Math.PI);
  return { signals, plant, resonance };
}

const decibels = (ratio: number) => 20 * Math.log10(ratio);
const around = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;

describe('a measured frequency response', () => {
  it.each([0, 0.2])(
    'of the plant within a closed loop is its closed form within 1 dB and 5°, also with a disturbance of ± %s N·m',
    (disturbance) => {
      const { signals, plant } = measured({ disturbance, stiffness: 40_000 });
      const found = frequencyResponse(signals, dt * every, 3, 150);
      if (!found) throw new Error('nothing was found');
      const { hertz, gain, phase, coherence } = found.plant;
      expect(hertz.length).toBeGreaterThan(60);
      expect(hertz.at(-1)).toBeGreaterThan(140);
      hertz.forEach((at, k) => {
        const wanted = plant(at);
        expect(Math.abs(decibels((gain[k] ?? NaN) / wanted.gain)), `${at} Hz`).toBeLessThan(1);
        expect(Math.abs(around((phase[k] ?? NaN) - wanted.phase)), `${at} Hz`).toBeLessThan(5);
        expect(coherence[k]).toBeGreaterThanOrEqual(0.8);
      });
    },
  );

  it('finds the resonance of two masses at its closed form', () => {
    const { signals, resonance } = measured();
    const found = frequencyResponse(signals, dt * every, 3, 400);
    const peak = found && resonanceIn(found.plant);
    expect(Math.abs((peak?.hertz ?? 0) / resonance - 1)).toBeLessThan(0.03);
    expect(peak?.height).toBeGreaterThan(4);
    const { signals: stiff } = measured({ stiffness: 40_000 });
    const rigid = frequencyResponse(stiff, dt * every, 3, 150);
    expect(rigid && resonanceIn(rigid.plant)).toBeUndefined();
  });

  it('leaves out what the excitation does not reach, and finds nothing in noise', () => {
    const random = noise(3);
    const length = 10_000;
    const pure = () => Float64Array.from({ length }, () => random() - 0.5);
    expect(frequencyResponse({ reference: pure(), torque: pure(), speed: pure() }, 0.001, 5, 300)).toBeUndefined();
    const zero = new Float64Array(length);
    expect(frequencyResponse({ reference: zero, torque: zero, speed: zero }, 0.001, 5, 300)).toBeUndefined();
    expect(
      frequencyResponse({ reference: zero.subarray(0, 10), torque: zero, speed: zero }, 0.001, 5, 300),
    ).toBeUndefined();
    const { signals } = measured({ disturbance: 40 });
    const noisy = frequencyResponse(signals, dt * every, 3, 400);
    expect(noisy === undefined || noisy.leftOut > 5).toBe(true);
  });
});
