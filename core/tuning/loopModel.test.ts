import { describe, expect, it } from 'vitest';
import { servoCoefficients, servoState, stepServo, type ServoDefinition } from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { stiffLoops } from '../test/stiffLoops.ts';
import { decibels, logarithmic, loopResponses, phases, resonanceOf } from './index.ts';

const { motorInertia, loadInertia } = stiffLoops;

describe('the model of the loops', () => {
  it('has its resonance and antiresonance where the closed form says', () => {
    const model = { ...stiffLoops, stiffness: 60, damping: 0.0005 };
    const { resonance = 0, antiresonance = 0 } = resonanceOf(model) ?? {};
    expect(antiresonance).toBeCloseTo(Math.sqrt(60 / loadInertia), 6);
    const frequencies = logarithmic(antiresonance / 3, resonance * 3, 20000);
    // Of the mechanics alone: an open speed loop with nothing else in it.
    const bare = { ...model, torqueTimeConstant: 0, filterTime: 0, speedIntegralTime: 0, speedGain: 1 };
    const gains = decibels(loopResponses(bare, frequencies).speedOpen);
    const flat = gains.map((gain, k) => gain + 20 * Math.log10(frequencies[k] ?? 1));
    expect(frequencies[flat.indexOf(Math.max(...flat))]).toBeCloseTo(resonance, -1);
    expect(frequencies[flat.indexOf(Math.min(...flat))]).toBeCloseTo(antiresonance, -1);
  });

  it.each([
    ['a rigid axis', {}, [5, 20, 45, 90]],
    ['two masses', { stiffness: 60, damping: 0.02 }, [5, 20, 45]],
    [
      'two masses behind a notch and a filter',
      {
        stiffness: 60,
        damping: 0.02,
        torqueFilterTime: 0.0002,
        notch: { frequency: 2 * Math.PI * 100, width: 0.3, depth: 0.3 },
      },
      [5, 20, 45, 100],
    ],
  ] as const)('agrees with the stepped plant, excited by a sine: %s', (_, more, hertz) => {
    const definition: ServoDefinition = {
      ...smoothServo,
      stepRate: 32000,
      commandedBy: 'speed',
      viscousFriction: 0,
      coulombFriction: 0,
      gravityTorque: 0,
      speedBandwidth: 300,
      assumedInertiaRatio: loadInertia / motorInertia,
      speedIntegralTime: stiffLoops.speedIntegralTime,
      torqueTimeConstant: stiffLoops.torqueTimeConstant,
      velocityFilterTime: stiffLoops.filterTime,
      torqueLimit: 1e6,
      peakTorque: 1e6,
      ...more,
    };
    const c = servoCoefficients(definition);
    for (const each of hertz) {
      const w = 2 * Math.PI * each;
      const s = servoState(0, definition.countsPerRevolution);
      const cycle = definition.stepRate / each;
      let [sine, cosine] = [0, 0];
      const settled = Math.ceil(6 / (1 / 0.3) / (1 / each)) + 4;
      for (let k = 0; k < (settled + 4) * cycle; k++) {
        const t = k / definition.stepRate;
        stepServo(c, s, Math.sin(w * t));
        if (k < settled * cycle) continue;
        sine += (2 * s.motorSpeed * Math.sin(w * t)) / (4 * cycle);
        cosine += (2 * s.motorSpeed * Math.cos(w * t)) / (4 * cycle);
      }
      // The speed demanded is not filtered here, the measured one is: the loop of the model, without its filter in the way ahead.
      const { speedClosed } = loopResponses({ ...stiffLoops, ...more }, Float64Array.of(w));
      const gain = 20 * Math.log10(Math.hypot(sine, cosine)) - (decibels(speedClosed)[0] ?? 0);
      const phase = (Math.atan2(cosine, sine) * 180) / Math.PI - (phases(speedClosed)[0] ?? 0);
      const filter = 20 * Math.log10(Math.hypot(1, w * stiffLoops.filterTime));
      const ahead = (Math.atan(w * stiffLoops.filterTime) * 180) / Math.PI;
      expect(Math.abs(gain - filter), `${each} Hz`).toBeLessThan(1);
      expect(Math.abs(phase - ahead - 360 * Math.round((phase - ahead) / 360)), `${each} Hz`).toBeLessThan(5);
    }
  });
});
