import { describe, expect, it } from 'vitest';
import type { AxisGuide } from './axisGuide.ts';
import { stepOf } from './boundStep.ts';
import { diagnose } from './diagnose.ts';
import type { StepResults } from './guidedStep.ts';
import type { SpindleGuide } from './spindleGuide.ts';
import { spindleCauses } from './spindleCauses.ts';
import { startCauses } from './startCauses.ts';
import { factorOf } from './steps/controlSupply.ts';

const guide = { brake: { drivenBy: 'none' }, isSuspended: false, commandedBy: 'pulses', loopIn: 'drive' } as AxisGuide;

const results = (signs: Readonly<Record<string, string>>, kind: 'axis' | 'spindle' = 'axis'): StepResults =>
  Object.fromEntries(
    Object.entries(signs).map(([step, sign]) => {
      const verdict = stepOf(kind, step)?.passes.includes(sign) ? 'passed' : 'failed';
      return [step, { verdict, known: 'read back', sign, words: '', values: [] }] as const;
    }),
  );
const named = (signs: Readonly<Record<string, string>>, of = guide) =>
  diagnose({ kind: 'axis', canCommand: true, results: results(signs), guide: of }).map(({ causes }) =>
    causes.map(({ cause }) => cause.id),
  );

describe('what is wrong', () => {
  it('is nothing where every step has passed, however few they are', () => {
    expect(named({})).toEqual([]);
    expect(named({ handTurn: 'right', bump: 'right', jogPlus: 'follows', direction: 'plus' })).toEqual([]);
  });

  it('is told apart by the hand-turned shaft: encoder channels, motor phases, sense of rotation', () => {
    expect(named({ handTurn: 'reversed', bump: 'runs away' })).toEqual([['encoderReversed']]);
    expect(named({ handTurn: 'right', bump: 'runs away' })).toEqual([['phasesExchanged']]);
    expect(named({ handTurn: 'reversed', bump: 'right', jogPlus: 'follows' })).toEqual([['senseReversed']]);
    // Before the bump the two cannot be told apart.
    expect(named({ handTurn: 'reversed' })[0]).toEqual(expect.arrayContaining(['encoderReversed', 'senseReversed']));
  });

  it('is two things where one does not explain all', () => {
    expect(named({ sensors: 'swapped', hostMove: 'short' })).toEqual([['limitsExchanged'], ['pulsesLost']]);
  });

  it('is nothing that the axis does not have', () => {
    const first = (of: AxisGuide) => named({ bump: 'still at the limit' }, of)[0];
    expect(first(guide)).not.toContain('brakeShut');
    expect(first({ ...guide, brake: { drivenBy: 'drive' } } as AxisGuide)).toContain('brakeShut');
  });

  it('counts what was left out with a reason after it had failed', () => {
    const skipped = { verdict: 'skipped', known: 'neither', sign: 'reversed', words: 'later', values: [] } as const;
    const bump = results({ bump: 'runs away' });
    expect(
      diagnose({ kind: 'axis', canCommand: true, results: { ...bump, handTurn: skipped }, guide })[0]?.causes[0]?.cause
        .id,
    ).toBe('encoderReversed');
  });

  it('where only the controller moves the axis, is looked for in its command first', () => {
    const at = (canCommand: boolean) =>
      diagnose({ kind: 'axis', canCommand, results: results({ bump: 'still without torque' }), guide })[0]?.causes[0]
        ?.cause.id;
    expect([at(true), at(false)]).toEqual(['motorOpen', 'commandBroken']);
  });

  it('at a spindle, is told apart by its trip, its current and its slip', () => {
    const at = (signs: Readonly<Record<string, string>>) =>
      diagnose({
        kind: 'spindle',
        canCommand: true,
        results: results(signs, 'spindle'),
        guide: {} as SpindleGuide,
      }).map(({ causes }) => causes.map(({ cause }) => cause.id));
    expect(at({ direction: 'right', noLoad: 'right' })).toEqual([]);
    expect(at({ noLoad: 'loaded' })).toEqual([['spindleBraked']]);
    expect(at({ noLoad: 'high' })).toEqual([['overfluxed']]);
    expect(at({ noLoad: 'overvoltage' })).toEqual([['returnedEnergy']]);
    expect(at({ restart: 'undervoltage', direction: 'reversed' })).toEqual([['supplyWeak'], ['leadsExchanged']]);
  });

  it('every cause names steps that there are, and what to change', () => {
    const all = [
      ...startCauses.map((cause) => ({ kind: 'axis' as const, ...cause })),
      ...spindleCauses.map((cause) => ({ kind: 'spindle' as const, ...cause })),
    ];
    for (const { kind, id, shows, watched = {}, remedy } of all) {
      expect(remedy.length, id).toBeGreaterThan(20);
      for (const [step, signs] of [...Object.entries(shows), ...Object.entries(watched)]) {
        expect(stepOf(kind, step), `${id}: ${step}`).toBeDefined();
        const whole = Object.values(signs).reduce((sum, share) => sum + share, 0);
        expect(whole, `${id}: ${step}`).toBeLessThanOrEqual(1 + 1e-9);
      }
    }
  });
});

describe('a distance that is off', () => {
  it.each([
    [100, 100, 'right'],
    [50, 100, 'factor'],
    [400, 100, 'factor'],
    [1000, 100, 'factor'],
    [2540, 100, 'factor'],
    [100, 2540, 'factor'],
    [300, 100, 'long'],
    [90, 100, 'short'],
  ])('%d instead of %d: %s', (measured, expected, sign) => {
    expect(factorOf(measured, expected).sign).toBe(sign);
  });

  it('a gearbox is named by its ratio', () => {
    expect(factorOf(700, 100, [7])).toEqual({ sign: 'factor', words: 'off by a factor of 7: the ratio of a stage' });
  });
});
