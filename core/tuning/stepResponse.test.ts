import { describe, expect, it } from 'vitest';
import { parkMiller, stiffLoops } from '../test/stiffLoops.ts';
import { marginsOfModel, stepResponse, type LoopModel } from './index.ts';

const { motorInertia, loadInertia } = stiffLoops;

describe('a small step of the position', () => {
  it('of a stiff axis without lag follows the closed form of second order', () => {
    // θ'' = ωs·(Kp·(1 − θ) − θ'): ωn² = ωs·Kp, 2·ζ·ωn = ωs (Ogata, Modern Control Engineering).
    const model = { ...stiffLoops, torqueTimeConstant: 0, filterTime: 0, speedIntegralTime: 0, positionGain: 150 };
    const values = stepResponse(model, 0.08, 81);
    const natural = Math.sqrt(300 * 150);
    const zeta = 300 / (2 * natural);
    const damped = natural * Math.sqrt(1 - zeta ** 2);
    values.forEach((got, k) => {
      const t = k / 1000;
      const want =
        1 - Math.exp(-zeta * natural * t) * (Math.cos(damped * t) + ((zeta * natural) / damped) * Math.sin(damped * t));
      expect(Math.abs(got - want), `${t} s`).toBeLessThan(0.005);
    });
  });

  it('comes to rest exactly where the margins say that the loops are stable', () => {
    const next = parkMiller(11);
    const spread = (low: number, high: number) => low * (high / low) ** next();
    for (let n = 0; n < 60; n++) {
      const resonance = 2 * Math.PI * spread(30, 300);
      const reduced = (motorInertia * loadInertia) / (motorInertia + loadInertia);
      const model: LoopModel = {
        ...stiffLoops,
        stiffness: n % 3 === 0 ? undefined : reduced * resonance ** 2,
        damping: n % 3 === 0 ? 0 : 0.06 * reduced * resonance,
        deadTime: spread(5e-5, 1e-3),
        speedGain: spread(30, 3000) * (motorInertia + loadInertia),
        positionGain: spread(5, 400),
        notch: n % 2 === 0 ? undefined : { frequency: resonance, width: 0.6, depth: 0.1 },
      };
      const { speed, position } = marginsOfModel(model);
      // At the very edge nothing comes to rest in the time that is looked at.
      if (
        Math.min(speed.gainMargin, position.gainMargin) < 1 ||
        Math.max(speed.peakSensitivity, position.peakSensitivity) > 12
      )
        continue;
      const tail = stepResponse(model, 4, 4001).slice(3500);
      const isAtRest = tail.every((each) => Math.abs(each - 1) < 0.05);
      expect(isAtRest, `${n}: ${JSON.stringify({ model, speed, position })}`).toBe(speed.isStable && position.isStable);
    }
  });
});
