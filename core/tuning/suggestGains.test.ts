import { describe, expect, it } from 'vitest';
import { parkMiller, stiffLoops } from '../test/stiffLoops.ts';
import {
  decibels,
  loopResponses,
  marginsOfModel,
  notchFor,
  suggestGains,
  uncertainty,
  wantedMargins,
  type TunedPlant,
} from './index.ts';

const { motorInertia } = stiffLoops;

describe('suggested gains', () => {
  it(
    'keep their margins on random two-mass axes, whatever inertia and stiffness are within ±30 %',
    { timeout: 600_000 },
    () => {
      const next = parkMiller(7);
      const spread = (low: number, high: number) => low * (high / low) ** next();
      const count = process.env.KAVRID_PROOF ? 1000 : 25;
      for (let n = 0; n < count; n++) {
        const motor = spread(1e-5, 1e-2);
        const plant: TunedPlant = {
          motorInertia: motor,
          loadInertia: motor * spread(0.2, 20),
          stiffness: undefined,
          damping: 0,
          torqueTimeConstant: spread(1e-4, 2e-3),
          filterTime: spread(1e-4, 1e-3),
          deadTime: spread(5e-5, 5e-4),
        };
        const total = plant.motorInertia + plant.loadInertia;
        const reduced = (plant.motorInertia * plant.loadInertia) / total;
        const resonance = 2 * Math.PI * spread(15, 500);
        const stiffness = reduced * resonance ** 2;
        // Two per cent of critical damping.
        const elastic = n % 5 === 0 ? plant : { ...plant, stiffness, damping: 0.04 * reduced * resonance };
        const got = suggestGains(elastic, 2 * Math.PI * spread(10, 200));
        expect(got, `plant ${n}`).toBeDefined();
        if (!got) continue;
        for (let k = 0; k < 3; k++) {
          const off = () => 1 + uncertainty * (2 * next() - 1);
          const real = {
            ...elastic,
            loadInertia: elastic.loadInertia * off(),
            stiffness: elastic.stiffness === undefined ? undefined : elastic.stiffness * off(),
          };
          const { speed, position } = marginsOfModel({ ...real, ...got });
          for (const margins of [speed, position]) {
            expect(margins.isStable, `plant ${n}`).toBe(true);
            expect(margins.phaseMargin, `plant ${n}`).toBeGreaterThanOrEqual(wantedMargins.phaseMargin);
            expect(margins.gainMargin, `plant ${n}`).toBeGreaterThanOrEqual(wantedMargins.gainMargin);
            expect(margins.peakSensitivity, `plant ${n}`).toBeLessThanOrEqual(wantedMargins.peakSensitivity);
          }
        }
      }
    },
  );

  it('have a notch at the resonance where the drive has one: more bandwidth, with the same margins', () => {
    // Load and rotor alike.
    const reduced = motorInertia / 2;
    const resonance = 2 * Math.PI * 200;
    const plant: TunedPlant = {
      ...{ ...stiffLoops, loadInertia: motorInertia, deadTime: 0.0002 },
      ...{ stiffness: reduced * resonance ** 2, damping: 0.04 * reduced * resonance },
    };
    const notch = notchFor(plant);
    expect(notch?.frequency).toBeCloseTo(resonance, 6);
    const [without, withNotch] = [suggestGains(plant, 3000), suggestGains({ ...plant, notch }, 3000)];
    // Not much, since the resonance may be elsewhere by a sixth.
    expect(withNotch?.bandwidth).toBeGreaterThan(without?.bandwidth ?? Infinity);
    // Of the notch itself: its depth at its frequency, nothing far from it.
    const at = Float64Array.of(resonance, 0.01 * resonance, 100 * resonance);
    const [bare, notched] = [stiffLoops, { ...stiffLoops, notch }].map((model) =>
      decibels(loopResponses(model, at).speedOpen),
    );
    const off = [0, 1, 2].map((k) => (notched?.[k] ?? 0) - (bare?.[k] ?? 0));
    expect(off[0]).toBeCloseTo(-20, 6);
    expect(Math.abs(off[1] ?? 1) + Math.abs(off[2] ?? 1)).toBeLessThan(0.01);
  });

  it('say what limits them', () => {
    const plant = { ...stiffLoops, deadTime: 0.0002 };
    expect(suggestGains(plant, 50)).toMatchObject({ bandwidth: 50, limitedBy: 'the bandwidth wanted' });
    expect(suggestGains(plant, 5000)?.limitedBy).toBe('the delays of the drive');
    expect(suggestGains({ ...plant, stiffness: 3, damping: 0.001 }, 5000)?.limitedBy).toBe('the resonance');
  });
});
