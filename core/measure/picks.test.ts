import { describe, expect, it } from 'vitest';
import { judgePicks } from './index.ts';

/** From 0 to each position in turn at 100 mm/s, with half a second of rest after each. */
const channels = (positions: readonly number[]) => {
  const values: number[] = Array.from({ length: 200 }, () => 0);
  for (const position of positions) {
    const from = values.at(-1) ?? 0;
    const count = Math.max(1, Math.round(Math.abs(position - from) / 0.1));
    for (let k = 1; k <= count; k++) values.push(from + ((position - from) * k) / count);
    for (let k = 0; k < 500; k++) values.push(position);
  }
  const demandPosition = Float64Array.from(values);
  const none = new Float64Array();
  return {
    period: 0.001,
    demandPosition,
    actualPosition: demandPosition,
    actualSpeed: none,
    followingError: none,
    torque: none,
  };
};
const picks = [
  { pattern: '10', target: 50 },
  { pattern: '01', target: 120 },
  { pattern: '11', target: 20 },
];
const verdicts = (positions: readonly number[]) =>
  judgePicks(channels(positions), picks, 0.1).map(({ verdict, instead }) =>
    instead ? `${verdict} ${instead}` : verdict,
  );

describe('picked moves', () => {
  it('reach their targets, one after the other; what stands there already moves nothing', () => {
    expect(verdicts([50, 120, 20])).toEqual(['reached', 'reached', 'reached']);
    expect(judgePicks(channels([120]), [{ pattern: '10', target: 0 }, ...picks.slice(1, 2)], 0.1)).toMatchObject([
      { verdict: 'reached', reached: 0 },
      { verdict: 'reached', reached: 120 },
    ]);
  });

  it('are told by the pattern that arrived, where it is recorded: wires before what is stored', () => {
    // The first input is bit 0: 10, 01 and 11 are 1, 2 and 3. The second input never arrives.
    const moved = channels([50, 0.05, 50]);
    const arrived = moved.demandPosition.map((_, k) => (k < 1000 ? 1 : k < 2000 ? 0 : 1));
    const judged = judgePicks(moved, picks, 0.1, arrived);
    expect(judged.map(({ verdict, instead }) => [verdict, instead])).toEqual([
      ['reached', undefined],
      ['other inputs', '00'],
      ['other inputs', '10'],
    ]);
  });

  it('tell inputs that are exchanged, a wrong target, and a pick that moved nothing', () => {
    expect(verdicts([120, 50, 20])).toEqual(['another move 01', 'another move 10', 'reached']);
    expect(verdicts([50, 121, 20])).toEqual(['reached', 'elsewhere', 'reached']);
    expect(verdicts([50, 120])).toEqual(['reached', 'reached', 'not seen']);
    expect(verdicts([])).toEqual(['not seen', 'not seen', 'not seen']);
  });
});
