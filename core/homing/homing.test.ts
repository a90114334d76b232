import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  homingMethodFacts,
  homingMethods,
  longestHoming,
  predictHoming,
  repeatability,
  startHoming,
  stepHoming,
  type HomingDefinition,
  type HomingInputs,
  type HomingMethod,
  type HomingWorld,
} from './index.ts';

const definition: HomingDefinition = {
  method: 17,
  searchSpeed: 50,
  creepSpeed: 5,
  acceleration: 500,
  positionAtHome: -3,
};
const flag = { from: 60, to: 70 };
const world = {
  start: 120,
  minusEdge: 0,
  plusEdge: 200,
  homeSwitch: flag,
  minusStop: -20,
  plusStop: 220,
  indexSpacing: 10,
  indexAt: 4,
  scanPeriod: 0.001,
} satisfies HomingWorld;

/** The switch that a method homes on: methods 3 to 6 and 19 to 22 have one that is on up to an end. */
function worldFor(method: HomingMethod, start = world.start): typeof world {
  const facts = homingMethodFacts(method);
  const range = facts.kind === 'edge' && facts.input === 'homeSwitch' ? facts.range : 'flag';
  const homeSwitch =
    range === 'flag' ? flag : range === 'to the plus end' ? { from: 70, to: Infinity } : { from: -Infinity, to: 60 };
  return { ...world, start, homeSwitch };
}

/** Runs the sequence on a body that follows the wanted speed within its acceleration, in small steps: another way to the same answer. */
function run(
  d: HomingDefinition,
  w: HomingWorld,
  {
    inputs: change,
    dt = 0.0001,
  }: { readonly inputs?: (inputs: HomingInputs) => Partial<HomingInputs>; readonly dt?: number } = {},
) {
  let [x, v, t, pulses, indexPosition] = [w.start, 0, 0, 0, 0];
  const [low, high] = [w.minusStop ?? -Infinity, w.plusStop ?? Infinity];
  const look = (): HomingInputs => {
    const inputs = {
      minusLimit: x <= (w.minusEdge ?? -Infinity),
      plusLimit: x >= (w.plusEdge ?? Infinity),
      homeSwitch: !!w.homeSwitch && x >= w.homeSwitch.from && x <= w.homeSwitch.to,
      position: x,
      standsStill: v === 0,
      indexPulses: pulses,
      indexPosition,
      isBlocked: v === 0 && wanted !== 0 && (x === low || x === high),
      seconds: t,
    };
    return { ...inputs, ...change?.(inputs) };
  };
  let wanted = 0;
  let state = startHoming(d, look());
  let [lowest, highest] = [x, x];
  while (state.phase !== 'done' && state.phase !== 'failed' && t < 400) {
    const step = stepHoming(d, state, look());
    state = step.state;
    wanted = step.speed;
    const dv = wanted - v;
    v = Math.abs(dv) <= d.acceleration * dt ? wanted : v + Math.sign(dv) * d.acceleration * dt;
    const before = Math.floor((x - w.indexAt) / w.indexSpacing);
    const free = x + v * dt;
    x = Math.min(high, Math.max(low, free));
    if (x !== free) v = 0;
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

/** Beyond the minus limit, on it, between it and the flag, on the flag, between it and the plus limit, on that, beyond it. */
const regions = [-15, -1, 30, 65, 130, 201, 215] as const;

/**
 * By hand from the drawings of IEC 61800-7-201 (from memory): the home position with the index pulse and without, towards which side
 * the axis goes first from each region, and from which regions within the travel it strikes a limit that it does not home on.
 * Pulses are at 4, 14, 24 …; the flag is on from 60 to 70, a long switch from 70 up or from 60 down.
 */
const table: readonly (readonly [method: number, home: number, edge: number, first: string, strikes: string])[] = [
  [1, 4, 0, '++-----', '       '],
  [2, 194, 200, '+++++--', '       '],
  [3, 64, 70, '++++---', '       '],
  [4, 74, 70, '++++---', '       '],
  [5, 64, 60, '+++----', '       '],
  [6, 54, 60, '+++----', '       '],
  [7, 54, 60, '+++-+--', '    x  '],
  [8, 64, 60, '+++-+--', '    x  '],
  [9, 64, 70, '+++++--', '    x  '],
  [10, 74, 70, '+++++--', '    x  '],
  [11, 74, 70, '++-+---', '  x    '],
  [12, 64, 70, '++-+---', '  x    '],
  [13, 64, 60, '++-----', '  x    '],
  [14, 54, 60, '++-----', '  x    '],
];

describe('methods of the standard', () => {
  const rows = table.flatMap(([method, home, edge, first, strikes]) => [
    { method: method as HomingMethod, home, first, strikes },
    { method: (method + 16) as HomingMethod, home: edge, first, strikes },
  ]);

  it.each(rows)('method $method comes to $home from every region, by the way of the standard', (row) => {
    const { method, home, first, strikes } = row;
    const facts = homingMethodFacts(method);
    for (const [k, start] of regions.entries()) {
      const w = worldFor(method, start);
      const got = predictHoming({ ...definition, method }, w, { search: 0, cross: 0 });
      const where = `from ${start}`;
      expect(got.because, where).toBeUndefined();
      expect(got.home, where).toBeCloseTo(home, 6);
      const moved = got.path.find(({ acceleration }) => acceleration !== 0)?.acceleration ?? 0;
      expect(moved > 0 ? '+' : '-', where).toBe(first[k]);
      if (facts.kind === 'edge' && facts.input === 'homeSwitch' && start > 0 && start < 200)
        expect(got.lowest <= 0 || got.highest >= 200, where).toBe(strikes[k] === 'x');
      // What counts is crossed at creep speed, from rest.
      const lastRest = got.path.findLastIndex(({ speed, time }) => speed === 0 && time < got.seconds - 0.008);
      const after = got.path.slice(lastRest);
      expect(Math.max(...after.map(({ speed }) => Math.abs(speed))), where).toBeLessThanOrEqual(definition.creepSpeed);
      expect((got.path[lastRest]?.position ?? NaN) < home, where).toBe(facts.kind === 'edge' && facts.cross > 0);
    }
  });

  it('33 and 34 take the next index pulse, and get off a limit that stands in the way first', () => {
    const home = (method: 33 | 34, start: number) =>
      predictHoming({ ...definition, method }, { ...world, start }, { search: 0, cross: 0 }).home;
    expect([home(33, 65), home(34, 65)]).toEqual([64, 74]);
    expect([home(33, 215), home(34, -5)]).toEqual([214, -6 + 10]);
    // On the limit of their own direction: the pulse next to it.
    expect([home(33, -1), home(34, 201)]).toEqual([4, 194]);
  });

  it('37 takes the position where the axis stands, whatever its limits say', () => {
    const got = predictHoming({ ...definition, method: 37 }, { ...world, start: 77 });
    expect(got).toMatchObject({ home: 77, seconds: 0, reads: -3, travelled: 0 });
  });

  it('a hard stop is where the axis stands, or the first pulse on the way back', () => {
    const w = { start: 120, minusStop: -20, plusStop: 220, indexSpacing: 10, indexAt: 4, scanPeriod: 0.001 };
    const at = (method: HomingMethod) => predictHoming({ ...definition, method }, { ...w, blockTime: 0.2 });
    expect(at('minusStop')).toMatchObject({ home: -20, rest: -20 });
    expect(at('plusStop')).toMatchObject({ home: 220 });
    expect(at('minusStopIndex')).toMatchObject({ home: -16, indexMargin: 4 });
    expect(at('plusStopIndex')).toMatchObject({ home: 214, indexMargin: 6 });
    // 140 at 50 with a ramp of 0.1 s at one end, and the time that it is recognised by.
    expect(at('minusStop').seconds).toBeCloseTo(140 / 50 + 0.05 + 0.2, 6);
    expect(predictHoming({ ...definition, method: 'minusStop' }, world).because).toContain('before the hard stop');
  });

  it('the nth index pulse counts', () => {
    const nth = (method: HomingMethod, indexPulse: number) =>
      predictHoming({ ...definition, method, indexPulse }, worldFor(method), { search: 0, cross: 0 });
    expect([1, 2, 3].map((n) => nth(1, n).home)).toEqual([4, 14, 24]);
    expect(nth(9, 2).home).toBe(54);
    expect(nth(33, 3).home).toBe(94);
    expect(nth(1, 3).indexMargin).toBeCloseTo(4, 6);
  });
});

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
    expect(want.lowest).toBeCloseTo(-2.5, 1);
    if (method === 1) expect(want.home).toBe(4);
  });

  it('agrees with the stepped sequence for every method from anywhere, with any speeds', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...homingMethods),
        fc.integer({ min: -1990, max: 21990 }).map((each) => each / 100 + 0.003),
        fc.double({ min: 5, max: 100, noNaN: true }),
        fc.double({ min: 2, max: 10, noNaN: true }),
        fc.double({ min: 300, max: 2000, noNaN: true }),
        (method, start, searchSpeed, creepSpeed, acceleration) => {
          const d = { ...definition, method, searchSpeed, creepSpeed, acceleration };
          const w = worldFor(method, start);
          const dt = 0.0002;
          const [got, want] = [run(d, w, { dt }), predictHoming(d, w, { search: 0, cross: 0 })];
          // Looks and steps of the body: some steps at the speed in force, crept back again.
          const off = 8 * dt * searchSpeed;
          expect(got.state.phase === 'failed').toBe(want.because !== undefined);
          expect(Math.abs(got.t - want.seconds)).toBeLessThan(0.02 + (4 * off) / creepSpeed);
          if (!homingMethodFacts(method).usesIndex)
            expect(Math.abs(got.x - want.rest)).toBeLessThan(
              4 * dt * creepSpeed + (want.because ? off + searchSpeed ** 2 / acceleration : 0.001),
            );
        },
      ),
      { seed: 14, numRuns: 250 },
    );
  });

  it('method 7 leaves the home switch at its lower edge, from all sides', () => {
    const d = { ...definition, method: 7 as const };
    const ideal = { search: 0, cross: 0 };
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
      'Stop',
      'Creep over the edge of the home switch',
      'Creep to the index pulse',
      'Stop',
    ]);
    expect(run(d, { ...world, start: 150 }).state.latched).toBe(54);
  });

  it('returns to a home switch that it overran, and gives up where creep speed overruns it too, or where there is none', () => {
    const d = { ...definition, method: 7 as const };
    const short = { ...world, start: 20, homeSwitch: { from: 60, to: 61 } };
    expect(predictHoming(d, short).legs.map(({ name }) => name)).toContain('Creep to the near side of the edge');
    expect(predictHoming(d, short).home).toBe(54);
    const shorter = { ...short, homeSwitch: { from: 60, to: 60.01 } };
    expect(predictHoming(d, shorter, { search: 0, cross: 0 }).because).toContain('shorter than the distance');
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
      { method: 17, searchSpeed: 100, creepSpeed: 1, acceleration: 100, positionAtHome: 0 },
      { start: 1, minusEdge: 0, indexSpacing: 10, indexAt: 5, scanPeriod: 0 },
    );
    expect(near.overrun).toBeCloseTo(1, 9);
    expect(near.seconds).toBeCloseTo(2 * Math.SQRT2 * 0.1 + 1 + 0.005 + 0.01, 9);
  });

  it('following error lets the axis run on by v/Kp, and the way back takes as long', () => {
    const d = { ...definition, creepSpeed: 1 };
    const [stiff, soft] = [0, 1 / 20].map((lag) => predictHoming(d, { ...world, lag }, { search: 0, cross: 0 }));
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

  /** With limit switches before the stops, a hard stop is never reached; beyond the outermost pulse a limit comes. */
  const failsSomewhere = (method: HomingMethod) => ['index', 'hard stop'].includes(homingMethodFacts(method).kind);

  it('the longest homing is longer than any, whatever the start and the place of the index pulse', () => {
    for (const method of homingMethods) {
      const d = { ...definition, method };
      const w = worldFor(method);
      const longest = longestHoming(d, { ...w, lag: 0.02 });
      for (let start = 0; start <= 200; start += 5)
        for (const indexAt of [0, 3, 9.99]) {
          const each = predictHoming(d, { ...w, start, indexAt, lag: 0.02 });
          expect(longest.because, String(method)).toBe(failsSomewhere(method) ? longest.because : undefined);
          if (longest.because !== undefined) continue;
          expect(longest.seconds, `${method} from ${start}, pulse at ${indexAt}`).toBeGreaterThanOrEqual(
            each.seconds - 1e-9,
          );
          expect(longest.overrun).toBeGreaterThanOrEqual(each.overrun - 1e-9);
        }
    }
  });

  it('starts on either limit, stands still for method 37, and reads the offset at the latched point', () => {
    expect(run(definition, { ...world, start: -1 }).state.latched).toBeCloseTo(0, 2);
    expect(run(definition, { ...world, start: 201 }).state.latched).toBeCloseTo(0, 2);
    // Away from the other limit at creep speed.
    expect(predictHoming(definition, { ...world, start: 201 }, { search: 0, cross: 0 }).seconds).toBeGreaterThan(4);
    expect(run({ ...definition, method: 37 }, { ...world, start: 77 }).state).toMatchObject({
      phase: 'done',
      latched: 77,
    });
    const want = predictHoming(definition, world);
    expect(want.reads - (want.rest - want.home)).toBeCloseTo(-3, 12);
  });

  type Changed = (inputs: HomingInputs) => Partial<HomingInputs>;
  const never: Changed = () => ({});
  const tooFar = 'within the longest search distance allowed';
  it.each<readonly [string, HomingMethod, Changed, number, string]>([
    [
      'exchanged limits',
      17,
      (i) => ({ minusLimit: i.plusLimit, plusLimit: i.minusLimit }),
      210,
      'the plus limit came on',
    ],
    ['a broken limit wire', 17, () => ({ minusLimit: false }), 110, `not found ${tooFar}`],
    ['a limit that is always on', 17, () => ({ minusLimit: true }), 50, `did not change ${tooFar}`],
    ['a home switch that is always on', 23, () => ({ homeSwitch: true }), 50, `did not change ${tooFar}`],
    [
      'a long home switch that is always on',
      19,
      () => ({ homeSwitch: true }),
      210,
      'came on before the home switch went off',
    ],
    ['no home switch', 23, () => ({ homeSwitch: false }), 210, 'the minus limit came on during the search'],
    ['no index pulse', 1, () => ({ indexPulses: 0 }), 110, 'no index pulse came'],
    ['no index pulse on the way', 33, () => ({ indexPulses: 0 }), 50, `no index pulse came ${tooFar}`],
    ['both limits', 17, () => ({ minusLimit: true, plusLimit: true }), 210, 'both limit switches are active'],
    [
      'a switch that bounces',
      17,
      (i) => (i.position > 0.01 && i.position < 0.02 ? { minusLimit: true } : {}),
      210,
      'it bounces',
    ],
    [
      'a hard stop that gives way',
      'minusStop',
      () => ({ isBlocked: false, minusLimit: false }),
      110,
      'no hard stop was found',
    ],
    ['an axis that takes too long', 17, () => ({ seconds: 99 }), 210, 'it was not at its end after 60 s'],
    ['a flag that creep speed overruns', 23, never, 210, 'shorter than the distance'],
  ])('%s: ends still, with the reason', (name, method, change, mostTravel, because) => {
    const d = { ...definition, method, mostTravel, mostSeconds: 60 };
    const homeSwitch = name.startsWith('a flag') ? { from: 60, to: 60.01 } : worldFor(method).homeSwitch;
    const got = run(d, { ...world, start: 100, homeSwitch }, { inputs: change, dt: 0.0002 });
    expect(got.state.phase).toBe('failed');
    expect(got.state.because).toContain(because);
    expect(stepHoming(d, got.state, {} as HomingInputs).speed).toBe(0);
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
