import { describe, expect, it } from 'vitest';
import {
  normalTail,
  positioningOf,
  predictHoming,
  repeatability,
  scatterOf,
  type HomingDefinition,
  type HomingWorld,
} from './index.ts';
import { jumpOdds } from './repeatability.ts';

const definition: HomingDefinition = {
  method: 17,
  searchSpeed: 50,
  creepSpeed: 5,
  acceleration: 500,
  positionAtHome: 0,
};
const world = { start: 120, minusEdge: 0, plusEdge: 200, indexSpacing: 10, indexAt: 4, scanPeriod: 0.001 };
const input = { definition, world, switchScatter: 0, runs: 4000, seed: 3 };

describe('the tail of the normal distribution', () => {
  it.each([
    // Tables of the standard normal distribution (from memory), to the digits printed there.
    [0, 0.5],
    [1, 0.158655],
    [1.959964, 0.025],
    [3, 0.0013499],
    [4, 3.16712e-5],
    [5, 2.86652e-7],
    [6, 9.86588e-10],
    [8, 6.22096e-16],
    [-2, 0.97725],
  ])('beyond %d standard deviations', (x, odds) => {
    expect(normalTail(x) / odds).toBeCloseTo(1, 5);
  });
});

describe('repeatability, predicted', () => {
  it('of an edge is the scan at creep speed, and the scatter of the switch over it', () => {
    // Uniform over one scan: v·T/√12; a normal scatter adds in squares.
    const scan = (5 * 0.001) / Math.sqrt(12);
    expect(repeatability(input).standardDeviation / scan).toBeCloseTo(1, 1);
    const scattered = repeatability({ ...input, switchScatter: 0.02 }).standardDeviation;
    expect(scattered / Math.hypot(scan, 0.02)).toBeCloseTo(1, 1);
    // Half a millimetre of drift to either side: 1/√12 of a millimetre.
    const drifting = repeatability({ ...input, drift: 0.5 }).standardDeviation;
    expect(drifting / (1 / Math.sqrt(12))).toBeCloseTo(1, 1);
    expect(repeatability(input)).toEqual(repeatability(input));
  });

  it('of a home switch and of a hard stop follows their scatter, too', () => {
    const flag = { ...world, homeSwitch: { from: 60, to: 70 } };
    const of = (method: HomingDefinition['method'], at: HomingWorld) =>
      repeatability({ ...input, definition: { ...definition, method }, world: at, switchScatter: 0.1 })
        .standardDeviation;
    expect(of(23, flag)).toBeCloseTo(0.1, 2);
    const { minusEdge: _, ...open } = flag;
    expect(of('minusStop', { ...open, minusStop: -3 })).toBeCloseTo(0.1, 2);
  });

  it('with an index pulse is exact, or off by a whole turn as often as the tail says', () => {
    const indexed = { ...input, definition: { ...definition, method: 1 as const }, switchScatter: 0.2 };
    expect(repeatability(indexed)).toMatchObject({ range: 0, jumps: 0 });
    // The pulse 4 after the edge: 20 standard deviations.
    expect(jumpOdds(indexed)).toBeLessThan(1e-80);
    // 0.4 after it: two standard deviations, less the mean delay of half a scan (0.0025).
    const near = { ...indexed, world: { ...world, indexAt: 0.4 } };
    const odds = jumpOdds(near) ?? NaN;
    expect(odds / normalTail((0.4 - 0.0025) / 0.2)).toBeCloseTo(1, 2);
    const seen = repeatability({ ...near, runs: 8000 });
    expect(seen.jumps / 8000 / odds).toBeGreaterThan(0.8);
    expect(seen.jumps / 8000 / odds).toBeLessThan(1.2);
    expect(seen.range).toBe(10);
    // Far below one in a thousand runs it is still a number: five standard deviations.
    const far = jumpOdds({ ...indexed, world: { ...world, indexAt: 1.0025 } }) ?? NaN;
    expect(far / 2.86652e-7).toBeCloseTo(1, 1);
    // At the very edge it is a toss-up.
    expect(jumpOdds({ ...indexed, world: { ...world, indexAt: 0.0025 } })).toBeCloseTo(0.5, 2);
    expect(jumpOdds(input)).toBeUndefined();
  });
});

describe('the way of a homing', () => {
  it('is longer with delays: debounce lets the axis run on, hysteresis moves the edge where it is left', () => {
    const d = { ...definition, method: 17 as const };
    const at = (more: object) => predictHoming(d, { ...world, ...more }, { search: 0, cross: 0 });
    expect(at({ debounce: 0.02 }).overrun - at({}).overrun).toBeCloseTo(50 * 0.02, 9);
    expect(at({ debounce: 0.02 }).home).toBeCloseTo(5 * 0.02, 9);
    expect(at({ hysteresis: 0.3 }).home).toBeCloseTo(0.3, 9);
    // A flag that is passed in less than the debounce time is not seen.
    const blink = { ...world, homeSwitch: { from: 60, to: 60.5 }, debounce: 0.02 };
    expect(predictHoming({ ...definition, method: 23 }, { ...blink, start: 20 }).because).toContain('minus limit');
  });

  it('with a limited jerk takes longer to stop: half of acceleration over jerk for each change of speed', () => {
    const [plain, soft] = [undefined, 5000].map((jerk) =>
      predictHoming(definition, { ...world, ...(jerk === undefined ? {} : { jerk }) }, { search: 0, cross: 0 }),
    );
    // From 50 to 0 at 500: 2.5; with 0.1 s of jerk at both ends of a ramp that just reaches 500 the ramp takes 0.2 s: 5.
    expect(plain?.overrun).toBeCloseTo(2.5, 9);
    expect(soft?.overrun).toBeCloseTo(5, 9);
    expect(soft?.home).toBeCloseTo(plain?.home ?? NaN, 9);
  });
});

describe('ISO 230-2', () => {
  it('a worked example: five deviations each way, in µm', () => {
    // By hand: means 2 and −1, sums of squares 10 and 2.5 over four.
    const got = positioningOf([0, 1, 2, 3, 4], [-2, -1.5, -1, -0.5, 0]);
    const [up, down] = [Math.sqrt(10 / 4), Math.sqrt(2.5 / 4)];
    expect(got).toMatchObject({ meanPlus: 2, meanMinus: -1, reversal: 3 });
    expect(got.repeatabilityPlus).toBeCloseTo(4 * up, 12);
    expect(got.bidirectional).toBeCloseTo(2 * up + 2 * down + 3, 12);
    // Without reversal the worse direction counts.
    expect(positioningOf([0, 1, 2, 3, 4], [2, 2, 2, 2, 2]).bidirectional).toBeCloseTo(4 * up, 12);
    expect(() => scatterOf([1])).toThrow('two values');
  });
});
