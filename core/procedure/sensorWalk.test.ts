import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isWalking, startWalk, stepWalk, walkedNow, walkWords, type SensorWalk } from './sensorWalk.ts';

const order = ['minus', 'plus', 'home'];

/** Looks every 50 ms at inputs that change by a script of [ms, active inputs]. */
function walked(
  script: readonly (readonly [number, readonly string[]])[],
  more: { until?: number; walk?: SensorWalk } = {},
) {
  let walk = more.walk ?? startWalk(order, 0);
  for (let at = 0; at <= (more.until ?? 60_000); at += 50) {
    const [, active = []] = script.findLast(([from]) => from <= at) ?? [];
    walk = stepWalk(walk, { type: 'seen', active: new Set(active), at });
  }
  return walk;
}
const kinds = ({ verdicts }: SensorWalk) => order.map((key) => verdicts[key]?.kind);

describe('a sensor walk', () => {
  it('proves each sensor that alone changes and changes back', () => {
    const walk = walked([
      [1000, ['minus']],
      [2000, []],
      [5000, ['plus']],
      [6000, []],
      [8000, ['home']],
      [9000, []],
    ]);
    expect([walk.phase, kinds(walk)]).toEqual(['done', ['proven', 'proven', 'proven']]);
  });

  it('swapped limits are named at both', () => {
    const walk = walked([
      [1000, ['plus']],
      [2000, []],
      [5000, ['minus']],
      [6000, []],
      [8000, ['home']],
      [9000, []],
    ]);
    expect(walk.verdicts).toMatchObject({
      minus: { kind: 'swapped', with: 'plus' },
      plus: { kind: 'swapped', with: 'minus' },
    });
    expect(walkWords({ kind: 'swapped', with: 'plus' }, () => 'Plus limit')).toContain('Plus limit reacted instead');
  });

  it('two that react together, one that bounces, and one that comes a moment later than its neighbour', () => {
    expect(
      kinds(
        walked([
          [1000, ['minus', 'plus']],
          [2000, []],
        ]),
      ),
    ).toEqual(['several', undefined, undefined]);
    // The other comes within the time to settle.
    expect(
      kinds(
        walked([
          [1000, ['plus']],
          [1150, ['plus', 'minus']],
          [2000, []],
        ]),
      )[0],
    ).toBe('several');
    expect(
      kinds(
        walked([
          [1000, ['minus']],
          [2000, []],
          [2200, ['minus']],
          [2300, []],
        ]),
      )[0],
    ).toBe('bounces');
    // Gone from 2000 to 2060, seen every 50 ms: at most as long as from the last look before to the first after.
    const bounced = walked([
      [1000, ['minus']],
      [2000, []],
      [2060, ['minus']],
      [2600, []],
    ]).verdicts.minus;
    expect(bounced).toEqual({ kind: 'bounces', changes: 2, gap: 150 });
    expect(bounced && walkWords(bounced, String)).toContain('too long for a debounce');
    expect(walkWords({ kind: 'bounces', changes: 2, gap: 60 }, String)).toContain(
      'an input debounce of 60 ms would do',
    );
    // The other comes while this one is held.
    expect(
      kinds(
        walked([
          [1000, ['minus']],
          [3000, ['minus', 'home']],
          [4000, []],
        ]),
      )[0],
    ).toBe('several');
  });

  it('one that is always active is judged without a hand, and does not hide what the others do', () => {
    const walk = walked([
      [0, ['minus']],
      [6000, ['minus', 'plus']],
      [7000, ['minus']],
      [9000, ['minus', 'home']],
      [10_000, ['minus']],
    ]);
    expect(kinds(walk)).toEqual(['always active', 'proven', 'proven']);
  });

  it('one that is always active further on does not hold up those before it', () => {
    const walk = walked([
      [0, ['home']],
      [6000, ['home', 'minus']],
      [7000, ['home']],
      [9000, ['home', 'plus']],
      [10_000, ['home']],
    ]);
    expect(kinds(walk)).toEqual(['proven', 'proven', 'always active']);
    expect(walk.phase).toBe('done');
  });

  it('waits for ever for a hand; what nobody sees is said, and so is what is skipped', () => {
    const waiting = walked([], { until: 3_600_000 });
    expect([waiting.phase, walkedNow(waiting)]).toEqual(['trip', 'minus']);
    const dead = stepWalk(waiting, { type: 'nothing', at: 1 });
    expect(dead.verdicts.minus).toEqual({ kind: 'no change' });
    const skipped = stepWalk(dead, { type: 'skip', because: 'not fitted', at: 2 });
    expect(walkWords(skipped.verdicts.plus ?? { kind: 'proven' }, String)).toContain('not fitted');
    // Before the sensor is at rest nobody has tripped it.
    expect(stepWalk(startWalk(order, 0), { type: 'nothing', at: 1 }).verdicts).toEqual({});
    expect(stepWalk(skipped, { type: 'end', because: 'the link was lost' })).toMatchObject({ phase: 'ended' });
  });

  it('whatever is seen, it proves nothing that did not come alone and go', () => {
    const active = fc.uniqueArray(fc.constantFrom(...order, 'other'), { maxLength: 3 });
    fc.assert(
      fc.property(fc.array(fc.tuple(active, fc.integer({ min: 1, max: 40 })), { maxLength: 30 }), (stretches) => {
        let walk = startWalk(order, 0);
        let at = 0;
        const alone = new Set<string>();
        for (const [now, looks] of stretches)
          for (let k = 0; k < looks; k++, at += 50) {
            const walking = walkedNow(walk);
            const known = now.filter((key) => order.includes(key) && walk.verdicts[key]?.kind !== 'always active');
            if (walk.phase !== 'rest' && known.length === 1 && known[0] === walking) alone.add(walking);
            walk = stepWalk(walk, { type: 'seen', active: new Set(now), at });
          }
        for (const [key, { kind }] of Object.entries(walk.verdicts))
          if (kind === 'proven') expect(alone.has(key)).toBe(true);
        expect(order.slice(0, walk.at).filter((key) => walk.verdicts[key] === undefined)).toEqual([]);
        expect(isWalking(walk)).toBe(walk.at < order.length);
      }),
      { seed: 4, numRuns: 300 },
    );
  });
});
