import { describe, expect, it } from 'vitest';
import {
  homingMethodFacts,
  predictHoming,
  repeatability,
  startHoming,
  stepHoming,
  type HomingDefinition,
  type HomingWorld,
} from './index.ts';

const definition: HomingDefinition = { method: 17, searchSpeed: 50, creepSpeed: 5, acceleration: 500, homeOffset: -3 };
const world: HomingWorld = { start: 120, minusEdge: 0, indexSpacing: 10, indexAt: 4, scanPeriod: 0.001 };

/** Runs the sequence on a body that follows the wanted speed within its acceleration; another way to the same answer. */
function run(method: 1 | 17 | 37, start: number, options: { minusWorks?: boolean } = {}) {
  const d = { ...definition, method };
  const dt = 0.0001;
  let [x, v, t, pulses, indexPosition] = [start, 0, 0, 0, 0];
  const inputs = () => ({
    minusLimit: (options.minusWorks ?? true) && x <= world.minusEdge,
    plusLimit: x >= 200 || x < -50,
    position: x,
    standsStill: v === 0,
    indexPulses: pulses,
    indexPosition,
  });
  let state = startHoming(d, inputs());
  let lowest = x;
  while (state.phase !== 'done' && state.phase !== 'failed' && t < 60) {
    const step = stepHoming(d, state, inputs());
    state = step.state;
    const dv = step.speed - v;
    v = Math.abs(dv) <= d.acceleration * dt ? step.speed : v + Math.sign(dv) * d.acceleration * dt;
    const before = Math.floor((x - world.indexAt) / world.indexSpacing);
    x += v * dt;
    t += dt;
    const after = Math.floor((x - world.indexAt) / world.indexSpacing);
    if (after !== before) {
      pulses++;
      indexPosition = Math.max(before, after) * world.indexSpacing + world.indexAt;
    }
    lowest = Math.min(lowest, x);
  }
  return { state, x, t, lowest };
}

describe('homing', () => {
  it.each([1, 17] as const)('method %i: the stepped sequence ends where and when the prediction says', (method) => {
    const got = run(method, 120);
    const want = predictHoming({ ...definition, method }, { ...world, scanPeriod: 0.0001 });
    expect(got.state.phase).toBe('done');
    expect(got.state.latched).toBeCloseTo(want.home, 2);
    expect(got.x).toBeCloseTo(want.rest, 2);
    expect(got.t).toBeCloseTo(want.seconds, 1);
    expect(-got.lowest).toBeCloseTo(want.overrun, 1);
    // By hand: 50²/(2·500) = 2.5 beyond the edge; the next index after the edge is at 4.
    expect(want.overrun).toBeCloseTo(2.5, 1);
    if (method === 1) expect(want.home).toBe(4);
  });

  it('starts on the limit, stands still for method 37, and reads the offset at the latched point', () => {
    expect(run(17, -1).state.latched).toBeCloseTo(0, 2);
    expect(run(37, 77).state).toMatchObject({ phase: 'done', latched: 77 });
    const want = predictHoming(definition, world);
    expect(want.reads - (want.rest - want.home)).toBeCloseTo(-3, 12);
  });

  it('fails with the reason when the limit switches are exchanged or dead', () => {
    const got = run(17, 20, { minusWorks: false });
    expect(got.state).toMatchObject({ phase: 'failed' });
    expect(got.state.because).toContain('plus limit came on');
  });

  it('repeats to the scan without an index, exactly with one, and is deterministic', () => {
    const input = { definition, world, switchScatter: 0, runs: 4000, seed: 3 };
    const edge = repeatability(input);
    // Uniform over one scan at creep speed: standard deviation v·T/√12.
    expect(edge.standardDeviation / ((5 * 0.001) / Math.sqrt(12))).toBeCloseTo(1, 1);
    expect(repeatability(input)).toEqual(edge);
    const index = repeatability({ ...input, definition: { ...definition, method: 1 }, switchScatter: 0.2 });
    expect(index.range).toBe(0);
    // An index pulse at the very edge: a gamble of one whole turn.
    const gamble = repeatability({
      ...input,
      definition: { ...definition, method: 1 },
      world: { ...world, indexAt: 0 },
      switchScatter: 0.2,
    });
    expect(gamble.range).toBe(10);
  });

  it('knows its methods by their numbers in IEC 61800-7-201', () => {
    expect(homingMethodFacts(1).usesIndex).toBe(true);
    expect(() => homingMethodFacts(99 as never)).toThrow('99');
  });
});
