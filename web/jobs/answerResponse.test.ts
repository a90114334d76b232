import { packSamples, type Channel, type Trace } from '@kavrid/contract';
import { describe, expect, it } from 'vitest';
import { demoAxis } from '../test/screen.tsx';
import { measuredResponse } from './answerResponse.ts';

const period = 0.001;
const count = 10_500;

/** A lag of first order from the demanded speed to the actual one, and the torque that an inertia takes for it. */
function excited(names: readonly string[]): Trace {
  const [corner, torquePerAcceleration] = [2 * Math.PI * 20, 0.02];
  const ratio = Math.log(200 / 2);
  const [demand, actual, torque, place] = [0, 1, 2, 3].map(() => new Float64Array(count)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  let [speed, position] = [0, 0];
  for (let k = 0; k < count; k++) {
    const share = Math.min(1, (k * period) / 10);
    const phase = ((2 * Math.PI * 2 * 10) / ratio) * (Math.exp(ratio * share) - 1);
    const wanted = 50 * Math.min(1, share / 0.05, (1 - share) / 0.05) * Math.sin(phase);
    demand[k] = wanted;
    actual[k] = speed;
    place[k] = position;
    torque[k] = torquePerAcceleration * corner * (wanted - speed);
    const next = wanted + (speed - wanted) * Math.exp(-corner * period);
    position += ((speed + next) / 2) * period;
    speed = next;
  }
  const planes: Readonly<Record<string, Float64Array>> = {
    demandSpeed: demand,
    actualSpeed: actual,
    actualPosition: place,
    torque,
  };
  const channels = names.map((id): Channel => ({ id, label: id, unit: '', scale: 1, format: 'float64' }));
  return {
    header: { period, count, channels },
    samples: packSamples(
      channels,
      names.map((id) => planes[id] ?? new Float64Array(count)),
    ),
  };
}

const at = (curve: Float64Array | undefined, hertz: number): number => {
  let best = NaN;
  for (let k = 0; curve && k < curve.length; k += 2)
    if ((curve[k] ?? 0) <= Math.log10(hertz)) best = curve[k + 1] ?? NaN;
  return best;
};

describe('a recording with an excitation', () => {
  it('gives the mechanics, the speed over its demand, and the model of the plan beside them', () => {
    const answer = measuredResponse(demoAxis, excited(['demandSpeed', 'actualSpeed', 'torque']));
    expect(answer.because).toBeUndefined();
    const { measured, model, resonance, range } = answer;
    expect(range[0]).toBeLessThan(4.5);
    // A first-order lag is 3 dB and 45° down at its corner of 20 Hz.
    expect(at(measured?.closed.gain, 20)).toBeCloseTo(-3, 0);
    expect(Math.abs(at(measured?.closed.phase, 20) + 45)).toBeLessThan(4);
    // 1/(0.02 · 2π · 20), in dB
    expect(at(measured?.plant.gain, 20)).toBeCloseTo(20 * Math.log10(1 / (0.02 * 2 * Math.PI * 20)), 0);
    expect(model?.plant.gain.length).toBeGreaterThan(100);
    expect(resonance).toBeUndefined();
  });

  it('takes a speed from its position, and says what is missing', () => {
    const fromPosition = measuredResponse(demoAxis, excited(['demandSpeed', 'actualPosition', 'torque']));
    expect(at(fromPosition.measured?.closed.gain, 20)).toBeCloseTo(-3, 0);
    expect(measuredResponse(demoAxis, excited(['demandSpeed', 'torque'])).because).toContain(
      'actual speed or position',
    );
    expect(measuredResponse(demoAxis, excited(['demandSpeed', 'actualSpeed', 'other'])).because).toContain('torque');
    const still = excited(['demandSpeed', 'actualSpeed', 'torque']);
    const rest = { ...still, samples: new Uint8Array(still.samples.length) };
    expect(measuredResponse(demoAxis, rest).because).toContain('no excitation');
  });
});
