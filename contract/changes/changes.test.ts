import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newAxis } from '../newAxis.ts';
import {
  changesBetween,
  changeWords,
  fieldWords,
  mergeDocuments,
  overlap,
  pointerOf,
  sameJson,
  summaryOf,
  valueAt,
  withValueAt,
} from './index.ts';

const axis = newAxis('Lift', 'linear');
/** Documents of one shape, as those of an axis are. */
const document = fc.record({
  name: fc.string({ maxLength: 5 }),
  speed: fc.option(fc.integer({ min: 0, max: 3 })),
  gear: fc.record({ numerator: fc.constantFrom('1', '2', '3'), denominator: fc.constantFrom('1', '2') }),
  stages: fc.array(fc.record({ kind: fc.constantFrom('screw', 'belt'), lead: fc.integer({ min: 0, max: 2 }) }), {
    maxLength: 3,
  }),
});

describe('changes', () => {
  it('put on the state before give the state after, for any two documents', () => {
    fc.assert(
      fc.property(document, document, (before, after) => {
        const changes = changesBetween(before, after);
        const made = changes.reduce((at, change) => withValueAt(at, change.path, change.after), before);
        expect(made).toEqual(after);
        expect(changes.length === 0).toBe(sameJson(before, after));
        for (const change of changes) expect(valueAt(after, change.path)).toEqual(change.after);
      }),
    );
  });

  it('leave what is not on their path shared, and a path that leads nowhere alone', () => {
    const next = withValueAt(axis, ['gear', 'numerator'], '5');
    expect(next.stages).toBe(axis.stages);
    expect(axis.gear.numerator).toBe('1');
    expect(withValueAt(axis, ['gear', 'numerator'], '1')).toBe(axis);
    expect(withValueAt(axis, ['nowhere', 'x'], 1)).toBe(axis);
    expect(valueAt(axis, ['stages', 7, 'lead'])).toBeUndefined();
    expect(pointerOf(['a/b', 'c~d', 0])).toBe('/a~1b/c~0d/0');
    expect(overlap(['stages'], ['stages', 0, 'lead'])).toBe(true);
    expect(overlap(['stages', 1], ['stages', 0, 'lead'])).toBe(false);
  });

  it('speak as people do', () => {
    const edited = { ...axis, gear: { ...axis.gear, numerator: '12288', denominator: '125' }, notes: 'x'.repeat(100) };
    const changes = changesBetween(axis, edited);
    expect(summaryOf(changes)).toBe(
      `notes empty → ${'x'.repeat(39)}…; gear numerator 1 → 12288; gear denominator 1 → 125`,
    );
    expect(summaryOf(changesBetween(axis, { ...edited, jogSpeed: 0.1, name: 'Hoist' }))).toContain('; 2 more');
    expect(summaryOf([])).toBe('nothing changed');
    expect(fieldWords(['stages', 1, 'teeth'])).toBe('stage 2 teeth');
    expect(fieldWords(['settings', 'positionGain'])).toBe('position gain');
    expect(changeWords({ path: ['command', 'inverted'], before: false, after: true })).toBe(
      'command inverted no → yes',
    );
    expect(changeWords({ path: ['tags'], before: [], after: ['a', 'b'] })).toBe('tags none → a, b');
    expect(changeWords({ path: ['stages'], before: [{}], after: [{}, {}] })).toBe('stages 1 in all → 2 in all');
    // A stage of another kind is another stage.
    const belt = changesBetween(
      { stages: [{ kind: 'screw', lead: '5' }] },
      { stages: [{ kind: 'beltDrive', teeth: '20' }] },
    );
    expect(belt.map(changeWords)).toEqual(['stage 1 screw → beltDrive']);
  });
});

describe('merging', () => {
  it('with one side untouched gives the other side', () => {
    fc.assert(
      fc.property(document, document, (base, edited) => {
        expect(mergeDocuments(base, edited, base)).toEqual({ document: edited, conflicts: [] });
        expect(mergeDocuments(base, base, edited)).toEqual({ document: edited, conflicts: [] });
        expect(mergeDocuments(base, edited, edited)).toEqual({ document: edited, conflicts: [] });
      }),
    );
  });

  it('drops no edit of either side: each stands in the result or in a conflict', () => {
    fc.assert(
      fc.property(document, document, document, (base, mine, theirs) => {
        const { document: merged, conflicts } = mergeDocuments(base, mine, theirs);
        const asked = (path: readonly (string | number)[]) => conflicts.some((each) => overlap(each.path, path));
        for (const change of changesBetween(base, theirs)) expect(valueAt(merged, change.path)).toEqual(change.after);
        for (const change of changesBetween(base, mine))
          if (!asked(change.path)) expect(valueAt(merged, change.path)).toEqual(change.after);
        for (const conflict of conflicts) {
          expect(conflict.mine).toEqual(valueAt(mine, conflict.path));
          expect(conflict.theirs).toEqual(valueAt(theirs, conflict.path));
        }
      }),
    );
  });

  it('is the same from both sides where nothing clashes', () => {
    fc.assert(
      fc.property(document, document, document, (base, mine, theirs) => {
        const [one, other] = [mergeDocuments(base, mine, theirs), mergeDocuments(base, theirs, mine)];
        expect(one.conflicts.map(({ path }) => pointerOf(path)).sort()).toEqual(
          other.conflicts.map(({ path }) => pointerOf(path)).sort(),
        );
        if (one.conflicts.length === 0) expect(one.document).toEqual(other.document);
      }),
    );
  });

  it('asks when one side replaced what the other edited inside', () => {
    const base = { stages: [{ kind: 'screw', lead: '5' }] };
    const mine = { stages: [{ kind: 'screw', lead: '10' }] };
    const theirs = { stages: [] as typeof base.stages };
    expect(mergeDocuments(base, mine, theirs)).toEqual({
      document: theirs,
      conflicts: [{ path: ['stages'], base: base.stages, mine: mine.stages, theirs: [] }],
    });
  });
});
