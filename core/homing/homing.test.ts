import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  homingMethodFacts,
  homingMethodNumbers,
  longestHoming,
  predictHoming,
  repeatability,
  startHoming,
  stepHoming,
  type HomingDefinition,
  type HomingMethod,
  type HomingWorld,
} from './index.ts';

const definition: HomingDefinition = { method: 17, searchSpeed: 50, creepSpeed: 5, acceleration: 500, homeOffset: -3 };
const world = {
  start: 120,
  minusEdge: 0,
  plusEdge: 200,
  homeSwitch: { from: 60, to: 70 },
  indexSpacing: 10,
  indexAt: 4,
  scanPeriod: 0.001,
} satisfies HomingWorld;

/** Runs the sequence on a body that follows the wanted speed within its acceleration, in small steps: another way to the same answer. */
function run(
  d: HomingDefinition,
  w: HomingWorld,
  { minusWorks = true, dt = 0.0001 }: { readonly minusWorks?: boolean; readonly dt?: number } = {},
) {
  let [x, v, t, pulses, indexPosition] = [w.start, 0, 0, 0, 0];
  const inputs = () => ({
    minusLimit: minusWorks && x <= w.minusEdge,
    plusLimit: x >= (w.plusEdge ?? Infinity) || x < w.minusEdge - 50,
    homeSwitch: !!w.homeSwitch && x >= w.homeSwitch.from && x <= w.homeSwitch.to,
    position: x,
    standsStill: v === 0,
    indexPulses: pulses,
    indexPosition,
  });
  let state = startHoming(d, inputs());
  let [lowest, highest] = [x, x];
  while (state.phase !== 'done' && state.phase !== 'failed' && t < 200) {
    const step = stepHoming(d, state, inputs());
    state = step.state;
    const dv = step.speed - v;
    v = Math.abs(dv) <= d.acceleration * dt ? step.speed : v + Math.sign(dv) * d.acceleration * dt;
    const before = Math.floor((x - w.indexAt) / w.indexSpacing);
    x += v * dt;
    t += dt;
    const after = Math.floor((x - w.indexAt) / w.indexSpacing);
    if (after !== before) {
      pulses++;
      indexPosition = Math.max(before, after) * w.indexSpacing + w.indexAt;
    }
    lowest = Math.min(lowest, x);
    highest = Math.max(highest, x);
  }
  return { state, x, t, lowest, highest };
}

describe('homing', () => {
  it.each([1, 17] as const)('method %i: the stepped sequence ends where and when the prediction says', (method) => {
    const got = run({ ...definition, method }, world);
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

  it('agrees with the stepped sequence for every method from anywhere, with any speeds', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...homingMethodNumbers),
        fc.integer({ min: -200, max: 20200 }).map((each) => each / 100 + 0.003),
        fc.double({ min: 5, max: 100, noNaN: true }),
        fc.double({ min: 2, max: 10, noNaN: true }),
        fc.double({ min: 100, max: 2000, noNaN: true }),
        (method, start, searchSpeed, creepSpeed, acceleration) => {
          const d = { ...definition, method, searchSpeed, creepSpeed, acceleration };
          const w = { ...world, start };
          const dt = 0.0002;
          const [got, want] = [run(d, w, { dt }), predictHoming(d, w, { search: 0, leave: 0 })];
          // Looks and steps of the body: some steps at the speed in force, crept back again.
          const off = 8 * dt * searchSpeed;
          expect(got.state.phase === 'failed').toBe(want.because !== undefined);
          expect(Math.abs(got.t - want.seconds)).toBeLessThan(0.02 + (4 * off) / creepSpeed);
          if (!homingMethodFacts(method).usesIndex)
            expect(Math.abs(got.x - want.rest)).toBeLessThan(4 * dt * creepSpeed + 0.001);
        },
      ),
      { seed: 14, numRuns: 150 },
    );
  });

  it('method 7 leaves the home switch at its lower edge, from all sides', () => {
    const d = { ...definition, method: 7 as const };
    const ideal = { search: 0, leave: 0 };
    // From below: 10 units up to 60, 2.5 beyond, back over 60; the next pulse towards minus is at 54.
    const below = predictHoming(d, { ...world, start: 50 }, ideal);
    expect(below).toMatchObject({ home: 54, indexMargin: 6 });
    expect(below.overrun).toBeCloseTo(2.5, 9);
    // 10/50 + half a ramp of 0.1, the stop 0.1, creep 8.5 mm at 5 with half a ramp of 0.01, the stop 0.01.
    expect(below.seconds).toBeCloseTo(0.25 + 0.1 + 1.7 + 0.005 + 0.01, 9);
    expect(predictHoming(d, { ...world, start: 65 }, ideal).home).toBe(54);
    // From above: to the plus limit at 200, back, over the upper edge.
    const above = predictHoming(d, { ...world, start: 150 }, ideal);
    expect(above.home).toBe(54);
    expect(above.legs.map(({ name }) => name)).toEqual([
      'Search for the home switch',
      'Stop at the limit',
      'Search for the home switch',
      'Stop on the home switch',
      'Creep off the home switch',
      'Creep to the index pulse',
      'Stop',
    ]);
    expect(run(d, { ...world, start: 150 }).state.latched).toBe(54);
  });

  it('returns to a home switch that it overran, and gives up where creep speed overruns it too, or where there is none', () => {
    const d = { ...definition, method: 7 as const };
    const short = { ...world, start: 20, homeSwitch: { from: 60, to: 61 } };
    expect(predictHoming(d, short).legs.map(({ name }) => name)).toContain('Creep back to the home switch');
    expect(predictHoming(d, short).home).toBe(54);
    const shorter = { ...short, homeSwitch: { from: 60, to: 60.01 } };
    expect(predictHoming(d, shorter, { search: 0, leave: 0 }).because).toContain('shorter than the distance');
    const { homeSwitch: _, ...none } = world;
    expect(predictHoming(d, none).because).toBe('the minus limit came on during the search for the home switch');
  });

  it('plus methods mirror the minus methods', () => {
    for (const [minus, plus] of [
      [1, 2],
      [17, 18],
    ] as const) {
      const [a, b] = [
        predictHoming({ ...definition, method: minus }, world),
        predictHoming({ ...definition, method: plus }, { ...world, start: 80, indexAt: 196 }),
      ];
      expect(b.home).toBeCloseTo(200 - a.home, 9);
      expect(b.seconds).toBeCloseTo(a.seconds, 9);
      expect(b.overrun).toBeCloseTo(a.overrun, 9);
    }
  });

  it('a start near the limit never reaches full speed', () => {
    // v² = 2·a·s: from 1 at 100 the edge is passed at 14.14 and it stops 1 beyond; 1 back at creep speed 1.
    const near = predictHoming(
      { method: 17, searchSpeed: 100, creepSpeed: 1, acceleration: 100, homeOffset: 0 },
      { start: 1, minusEdge: 0, indexSpacing: 10, indexAt: 5, scanPeriod: 0 },
    );
    expect(near.overrun).toBeCloseTo(1, 9);
    expect(near.seconds).toBeCloseTo(2 * Math.SQRT2 * 0.1 + 1 + 0.005 + 0.01, 9);
  });

  it('following error lets the axis run on by v/Kp, and the way back takes as long', () => {
    const d = { ...definition, creepSpeed: 1 };
    const [stiff, soft] = [0, 1 / 20].map((lag) => predictHoming(d, { ...world, lag }, { search: 0, leave: 0 }));
    expect((soft?.overrun ?? 0) - (stiff?.overrun ?? 0)).toBeCloseTo(50 / 20, 9);
    // Back over 2.5 at 1, and the lag itself at each wait for the axis: edge, standstill, edge, standstill.
    expect((soft?.seconds ?? 0) - (stiff?.seconds ?? 0)).toBeCloseTo(2.5 + 4 / 20, 2);
    // A position loop of first order, stepped finely: the axis stops where its command does.
    let [command, axis, speed, t] = [120, 120, 0, 0];
    for (const dt = 1e-5; speed < 0 || t === 0 || axis - command > 1e-6; t += dt) {
      const wanted = axis > 0 ? -50 : 0;
      speed += Math.max(-500 * dt, Math.min(500 * dt, wanted - speed));
      command += speed * dt;
      axis += 20 * (command - axis) * dt;
    }
    expect(-axis).toBeCloseTo(soft?.overrun ?? 0, 2);
  });

  it('the longest homing is longer than any, whatever the start and the place of the index pulse', () => {
    for (const method of homingMethodNumbers) {
      const d = { ...definition, method };
      const longest = longestHoming(d, { ...world, lag: 0.02 });
      for (let start = 0; start <= 200; start += 5)
        for (const indexAt of [0, 3, 9.99]) {
          const each = predictHoming(d, { ...world, start, indexAt, lag: 0.02 });
          expect(longest.seconds).toBeGreaterThanOrEqual(each.seconds - 1e-9);
          expect(longest.overrun).toBeGreaterThanOrEqual(each.overrun - 1e-9);
        }
    }
  });

  it('starts on either limit, stands still for method 37, and reads the offset at the latched point', () => {
    expect(run(definition, { ...world, start: -1 }).state.latched).toBeCloseTo(0, 2);
    expect(run(definition, { ...world, start: 201 }).state.latched).toBeCloseTo(0, 2);
    // Away from the other limit at creep speed.
    expect(predictHoming(definition, { ...world, start: 201 }, { search: 0, leave: 0 }).seconds).toBeGreaterThan(4);
    expect(run({ ...definition, method: 37 }, { ...world, start: 77 }).state).toMatchObject({
      phase: 'done',
      latched: 77,
    });
    const want = predictHoming(definition, world);
    expect(want.reads - (want.rest - want.home)).toBeCloseTo(-3, 12);
  });

  it('fails with the reason when the limit switches are exchanged, dead, stuck or both on', () => {
    const got = run(definition, { ...world, start: 20 }, { minusWorks: false });
    expect(got.state).toMatchObject({ phase: 'failed' });
    expect(got.state.because).toContain('plus limit came on');
    const inputs = { position: 0, standsStill: true, indexPulses: 0, indexPosition: 0, homeSwitch: false };
    expect(startHoming(definition, { ...inputs, minusLimit: true, plusLimit: true }).because).toContain(
      'a wire may be broken',
    );
    const stuck = stepHoming(
      definition,
      { ...startHoming(definition, { ...inputs, minusLimit: true, plusLimit: false }), phase: 'leave' },
      { ...inputs, minusLimit: true, plusLimit: true },
    );
    expect(stuck).toMatchObject({
      speed: 0,
      state: { because: 'the plus limit came on before the minus limit went off' },
    });
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
    expect(() => homingMethodFacts(99 as HomingMethod)).toThrow('99');
  });
});
