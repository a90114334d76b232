import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moveSample, planMove, sampleMove, type MoveChannels } from '../motion/index.ts';
import { factorsOf, indicatorReturns, judgeHostMoves, type HostPath, type WantedHostMoves } from './index.ts';

const sample = moveSample();
const period = 0.001;

/** What a drive records of a controller that goes back and forth: each move is what `sent` makes of its pulses. */
function recorded(
  wanted: WantedHostMoves & { readonly speed: number; readonly acceleration: number },
  pulsesPerUnit: number,
  sent: (pulses: number, k: number) => number,
  speed = wanted.speed,
): MoveChannels {
  const demand: number[] = Array.from({ length: 200 }, () => 0);
  let at = 0;
  for (let k = 0; k < 2 * wanted.repeats; k++) {
    const wantedPulses = Math.round(wanted.distance * pulsesPerUnit) * (k % 2 === 0 ? 1 : -1);
    const pulses = sent(wantedPulses, k);
    const scale = pulses / wantedPulses;
    const move = planMove(pulses / pulsesPerUnit, {
      speed: speed * Math.abs(scale),
      acceleration: wanted.acceleration * Math.abs(scale),
      jerk: undefined,
    });
    for (let t = period; t < move.duration + 0.2; t += period) {
      sampleMove(move, Math.min(t, move.duration), sample);
      demand.push(at + Math.round(sample.position * pulsesPerUnit) / pulsesPerUnit);
    }
    at += pulses / pulsesPerUnit;
    demand.push(at);
  }
  const demandPosition = Float64Array.from(demand);
  return {
    period,
    demandPosition,
    actualPosition: demandPosition.slice(),
    actualSpeed: new Float64Array(demand.length),
    followingError: new Float64Array(demand.length),
    torque: new Float64Array(demand.length),
  };
}

const wanted = { distance: 100, repeats: 3, speed: 200, acceleration: 2000 };
const path = (pulsesPerUnit: number, more: Partial<HostPath> = {}): HostPath => ({
  unit: 'mm',
  pulsesPerUnit,
  highestRate: null,
  resolution: 1.5 / pulsesPerUnit,
  factors: factorsOf([{ name: 'gearbox', ratio: 7 }]),
  ...more,
});
const causes = (channels: MoveChannels, of: HostPath = path(100), moves: WantedHostMoves = wanted) =>
  judgeHostMoves(channels, moves, of).faults.map(({ cause }) => cause);
const words = (channels: MoveChannels) =>
  judgeHostMoves(channels, wanted, path(100))
    .faults.map((fault) => fault.words)
    .join(' ');

describe('moves by the controller', () => {
  it('that arrive as they were sent have no fault, with the pulses and the travel in figures', () => {
    const { faults, figures } = judgeHostMoves(
      recorded(wanted, 100, (pulses) => pulses),
      wanted,
      path(100),
    );
    expect(faults).toEqual([]);
    expect(figures).toMatchObject({ moves: 6, pulsesWanted: 10_000, drift: 0, travelError: 0 });
    expect(figures?.pulsesReceived).toBeCloseTo(10_000, 6);
    expect(figures?.peakSpeed).toBeCloseTo(200, 0);
  });

  it('with samples missing at a rest show no number that is none', () => {
    const trace = recorded(wanted, 100, (pulses) => pulses);
    const actualPosition = trace.actualPosition.slice();
    actualPosition.fill(NaN, 0.98 * actualPosition.length);
    const { figures } = judgeHostMoves({ ...trace, actualPosition }, wanted, path(100));
    expect(figures?.travelError).toBeLessThan(0.001);
    expect(figures?.restingError).toBeLessThan(0.001);
  });

  it('name a wrong factor, an inverted direction, a direction that does not arrive, and nothing at all', () => {
    expect(words(recorded(wanted, 100, (pulses) => 2 * pulses))).toContain('a factor of two');
    expect(words(recorded(wanted, 100, (pulses) => pulses / 4))).toContain('quadrature');
    expect(words(recorded(wanted, 100, (pulses) => 25.4 * pulses))).toContain('inches');
    expect(words(recorded(wanted, 100, (pulses) => 7 * pulses))).toContain('the ratio of the gearbox');
    expect(words(recorded(wanted, 100, (pulses) => pulses / 7))).toContain('the ratio of the gearbox is left out');
    expect(causes(recorded(wanted, 100, (pulses) => 1.37 * pulses))).toEqual(['unknown factor']);
    expect(causes(recorded(wanted, 100, (pulses) => -pulses))).toEqual(['inverted']);
    expect(causes(recorded(wanted, 100, (pulses) => Math.abs(pulses)))).toEqual(['one way']);
    expect(causes({ ...recorded(wanted, 100, (pulses) => pulses), demandPosition: new Float64Array(5000) })).toEqual([
      'nothing arrived',
    ]);
  });

  it('tell lost pulses from a scale that is slightly off, and from pulses counted twice', () => {
    expect(causes(recorded(wanted, 100, (pulses, k) => pulses - Math.sign(pulses) * (5 + 7 * k)))).toEqual(['lost']);
    expect(causes(recorded(wanted, 100, (pulses, k) => pulses + Math.sign(pulses) * (5 + 7 * k)))).toEqual(['doubled']);
    expect(causes(recorded(wanted, 100, (pulses) => 1.002 * pulses))).toEqual(['scale off']);
    // A pulse of rounding, the same each way, is none of them.
    expect(causes(recorded(wanted, 100, (pulses) => pulses - Math.sign(pulses)))).toEqual([]);
  });

  it('name the output that is too slow by its rate, and moves that did not come', () => {
    const slow = recorded(wanted, 100, (pulses) => pulses, 80);
    expect(causes(slow, path(100, { highestRate: 8000 }))).toEqual(['rate limited']);
    expect(causes(slow)).toEqual(['too slow']);
    expect(causes(recorded({ ...wanted, repeats: 2 }, 100, (pulses) => pulses))).toEqual(['missing moves']);
    // A move too short to reach its speed says nothing about it.
    const short = { ...wanted, distance: 5 };
    expect(
      causes(
        recorded(short, 100, (pulses) => pulses),
        path(100),
        short,
      ),
    ).toEqual([]);
  });

  it('each factor is found by its name over random axes', () => {
    const axis = fc.record({
      // A sixtieth of a move has still a hundred pulses: with fewer no factor can be told.
      pulsesPerUnit: fc.double({ min: 400, max: 5000, noNaN: true }),
      distance: fc.double({ min: 20, max: 300, noNaN: true }),
      repeats: fc.integer({ min: 1, max: 4 }),
      factor: fc.constantFrom(2, 1 / 2, 4, 1 / 4, 10, 1 / 10, 25.4, 1 / 25.4, 7, 1 / 7, 60, 1 / 60),
      isInverted: fc.boolean(),
    });
    fc.assert(
      fc.property(axis, ({ pulsesPerUnit, distance, repeats, factor, isInverted }) => {
        const moves = { distance, repeats, speed: distance, acceleration: 10 * distance };
        const sense = isInverted ? -1 : 1;
        const trace = recorded(moves, pulsesPerUnit, (pulses) => sense * Math.round(factor * pulses));
        const { faults } = judgeHostMoves(trace, moves, path(pulsesPerUnit));
        expect(faults.map(({ cause }) => cause)).toEqual([
          ...(isInverted ? (['inverted'] as const) : []),
          'known factor',
        ]);
        const named = factorsOf([{ name: 'gearbox', ratio: 7 }]).find(
          (each) => Math.abs(each.factor / factor - 1) < 1e-9,
        );
        expect(faults.at(-1)?.words).toContain(named?.cause);
      }),
      { seed: 20261130, numRuns: process.env.KAVRID_PROOF ? 3000 : 60 },
    );
  });
});

describe('returns to an indicator', () => {
  it('drift with lost pulses, and only scatter with friction', () => {
    // 3 pulses of 0.01 mm are lost at every return, read after every ten.
    const lost = indicatorReturns([0, 0.3, 0.61, 0.89, 1.2], 10, 100, 0.01);
    if (lost.state === 'unknown') throw new Error(lost.because);
    expect(lost.value.verdict).toBe('drifts');
    expect(lost.value.pulsesPerReturn).toBeCloseTo(3, 1);
    const noise = indicatorReturns([0, 0.02, -0.01, 0.01, 0], 10, 100, 0.01);
    expect(noise.state === 'known' && noise.value.verdict).toBe('within noise');
    const none = indicatorReturns([0, 0, 0, 0], 10, 1, 0.01);
    expect(none.state === 'known' && none.value.verdict).toBe('none lost');
    expect(indicatorReturns([0, 1], 10, 100, 0.01).state).toBe('unknown');
  });
});
