import { describe, expect, it } from 'vitest';
import {
  chooseHoming,
  homingMethodFacts,
  homingMethods,
  longestHoming,
  unfitBecause,
  type HomingMeans,
  type HomingMethod,
} from './index.ts';

const means: HomingMeans = {
  hasLimits: true,
  homeSwitch: 'none',
  hasIndex: true,
  hasMinusStop: false,
  hasPlusStop: false,
  hasAbsolute: false,
  isSuspended: false,
  isEndless: false,
  turnsOverTravel: 17,
  known: undefined,
};
const world = { minusEdge: 0, plusEdge: 200, homeSwitch: { from: 60, to: 70 }, indexSpacing: 10, scanPeriod: 0.001 };
const predict = (method: HomingMethod) =>
  longestHoming({ method, searchSpeed: 50, creepSpeed: 5, acceleration: 500, positionAtHome: 0 }, world);
const scatter = (method: HomingMethod) => (homingMethodFacts(method).usesIndex ? 0.001 : 0.05);
const chosen = (more: Partial<HomingMeans>, priority: 'repeatability' | 'time' | 'room' = 'repeatability') =>
  chooseHoming({ ...means, ...more }, priority, predict, scatter).map(({ method }) => method);

describe('choosing a homing method', () => {
  it('offers what fits what there is, two or three at most, the best for what matters first', () => {
    expect(homingMethodFacts(chosen({})[0] ?? 37).usesIndex).toBe(true);
    expect(chosen({ hasIndex: false })[0]).toBe(17);
    for (const each of [{}, { homeSwitch: 'flag' as const }, { hasIndex: false }, { hasLimits: false }])
      expect(chosen(each).length).toBeLessThanOrEqual(3);
    // Without the index pulse it is faster.
    expect(homingMethodFacts(chosen({}, 'time')[0] ?? 1).usesIndex).toBe(false);
    expect(chosen({ homeSwitch: 'flag' })).not.toEqual(chosen({}));
  });

  it('says why the others do not fit', () => {
    const because = (method: HomingMethod, more: Partial<HomingMeans> = {}) =>
      unfitBecause(method, { ...means, ...more });
    expect(because(1, { hasIndex: false })).toBe('there is no index pulse');
    expect(because(17, { hasLimits: false })).toBe('there are no limit switches');
    expect(because(23)).toBe('there is no such home switch');
    expect(because(19, { homeSwitch: 'flag' })).toBe('there is no such home switch');
    expect(because('minusStop')).toBe('there is no hard stop at this end');
    expect(because(33)).toContain('more than once');
    expect(because(33, { turnsOverTravel: 1 })).toBeUndefined();
    expect(because(17, { isEndless: true })).toContain('endless');
    expect(because(17, { known: [1, 2] })).toContain('not among the methods');
    expect(because(37, { hasLimits: false, hasIndex: false })).toBeUndefined();
  });

  it('does not send a suspended load down where it can be searched upwards', () => {
    const [first] = chosen({ isSuspended: true });
    const facts = homingMethodFacts(first ?? 37);
    expect('search' in facts && facts.search).toBe(1);
  });

  it('every method has its words', () => {
    expect(homingMethods).toHaveLength(14 + 14 + 3 + 4);
    for (const method of homingMethods) {
      const { name, when } = homingMethodFacts(method);
      expect(name.length, String(method)).toBeGreaterThan(8);
      expect(when, String(method)).toMatch(/\.$/);
    }
  });
});
