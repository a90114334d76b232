import { describe, expect, it } from 'vitest';
import { acceptanceKeys, judgeAcceptance, verdictOf, type AcceptanceLimit, type Measured } from './index.ts';

const none = Object.fromEntries(acceptanceKeys.map((key) => [key, null])) as Record<AcceptanceLimit, null>;
const by = (move?: Measured, homing?: Measured) => ({
  'test move': move,
  'homing series': homing,
  positioning: undefined,
  'controller move': undefined,
});

describe('acceptance', () => {
  it('judges each limit that is set by what was measured; at the limit it passes', () => {
    const rows = judgeAcceptance(
      { ...none, followingError: 2, peakTorque: 150, homingRepeatability: 0.1 },
      by({ figures: { followingError: 2, peakTorque: 151 } }, { figures: { homingRepeatability: 0.02 } }),
    );
    expect(rows.map(({ key, verdict }) => [key, verdict])).toEqual([
      ['followingError', 'passed'],
      ['peakTorque', 'failed'],
      ['homingRepeatability', 'passed'],
    ]);
    expect(verdictOf(rows)).toBe('failed');
    expect(verdictOf(rows.filter(({ verdict }) => verdict === 'passed'))).toBe('passed');
  });

  it('what is stale, was not measured or did not settle passes nothing, and says why; nor does an axis without limits', () => {
    const limits = { ...none, followingError: 2, settlingTime: 0.1, positionRepeatability: 1 };
    const stale = judgeAcceptance(limits, by({ figures: { followingError: 1 }, staleBecause: 'the plan has changed' }));
    expect(stale.map(({ verdict, because }) => [verdict, because])).toEqual([
      ['not measured', 'the plan has changed'],
      ['not measured', 'the plan has changed'],
      ['not measured', 'there is no positioning'],
    ]);
    const unsettled = judgeAcceptance(limits, by({ figures: { followingError: 1, settlingTime: undefined } }));
    expect(unsettled[1]).toEqual({
      key: 'settlingTime',
      limit: 0.1,
      verdict: 'not measured',
      because: 'the test move does not show it',
    });
    expect(verdictOf(unsettled)).toBe('not measured');
    expect(verdictOf([])).toBe('not measured');
  });
});
