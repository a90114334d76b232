import { newAxis, withValueAt, type AxisDocument, type DriveData, type LiveState } from '@kavrid/contract';
import { driveStanding } from '@kavrid/core/drive';
import { describe, expect, it } from 'vitest';
import { demoAxis as carriage } from '../test/screen.tsx';
import { axisComputation } from '../member/axisComputation.ts';
import { guidedStanding } from '../member/guidedStanding.ts';
import { stepsOf, walkStanding } from './steps.ts';

describe('axisComputation', () => {
  it('answers the same for the same document, and keeps untouched results for the next', () => {
    const first = axisComputation(carriage, 'metric');
    expect(axisComputation(carriage, 'metric')).toBe(first);
    const next = axisComputation(
      { ...carriage, gear: { ...carriage.gear, numerator: '100', denominator: '1' } },
      'metric',
    );
    expect(next.results.stepsPerUnit).not.toBe(first.results.stepsPerUnit);
    expect(next.results.reflectedInertia).toBe(first.results.reflectedInertia);
    expect(next.findings.map((finding) => finding.id)).toContain('ratioInexact');
  });

  it('speaks in inches where lengths are wanted so', () => {
    const fast = { ...carriage, wanted: { ...carriage.wanted, speed: 25400 } };
    const messages = (lengths: 'metric' | 'inch') =>
      axisComputation(fast, lengths)
        .findings.map((f) => f.message)
        .join();
    // 200 kHz at 100 pulses/mm is 2000 mm/s, 78.74 in/s by hand.
    expect(messages('metric')).toContain('2\u202f000 mm/s');
    expect(messages('inch')).toContain('78.74 in/s');
  });
});

describe('steps of the job', () => {
  const standing = (axis: AxisDocument, data: DriveData | undefined, live: LiveState | undefined, keyed = 0) =>
    stepsOf(
      axis,
      axisComputation(axis, 'metric'),
      keyed,
      data,
      live && { ...live, sensors: walkStanding(live) },
      guidedStanding(undefined),
    ).map((step) => `${step.standing}${step.proven ? ' ✓' : ''}`);
  const comparison = (is: string) => ({ standing: is, parameter: {} }) as DriveData['comparisons'][number];
  const data = (...standings: string[]): DriveData => ({
    comparisons: standings.map(comparison),
    plates: [],
    notInMap: [],
    standing: driveStanding(true, standings.map(comparison), []),
    procedure: { phase: 'idle', log: [], target: 'plan', toWrite: [], written: [], isStored: false },
  });

  it('are open until their numbers are there, and proven only by evidence', () => {
    expect(standing(newAxis('New', 'linear'), undefined, undefined)).toEqual([
      'open',
      'open',
      'open',
      'not begun',
      'not read yet',
      'not connected',
      'not begun',
      'open',
      'not connected',
      'open',
      'recordings',
      'open',
      'not begun',
      'open',
    ]);
    expect(standing(carriage, data('proven', 'differs', 'not planned'), { link: 'up' } as LiveState, 3)).toEqual([
      'computed',
      'checked',
      'planned',
      '3 keyed in',
      '1 not proven',
      'live',
      'not begun',
      'predicted',
      'connected',
      'planned',
      'recordings',
      'gains planned',
      'not begun',
      'limits set',
    ]);
    const walk = { order: ['a', 'b'], verdicts: { a: { kind: 'proven' }, b: { kind: 'swapped', with: 'a' } } };
    expect(standing(carriage, data('proven'), { link: 'up', homed: true, walk } as unknown as LiveState)).toEqual([
      'computed',
      'checked',
      'planned',
      'not begun',
      'proven ✓',
      '1 of 2 proven',
      'not begun',
      'homed',
      'homed',
      'planned',
      'recordings',
      'gains planned',
      'not begun',
      'limits set',
    ]);
    // A drive that is set for another motor proves nothing, and neither does an empty plan.
    const otherMotor = { label: 'Encoder', unit: 'counts', plate: 1, drive: 2, agrees: false };
    const read = data('proven');
    expect(
      standing(carriage, { ...read, standing: driveStanding(true, read.comparisons, [otherMotor]) }, undefined)[4],
    ).toBe('another motor');
    expect(standing(carriage, data('not planned'), undefined)[4]).toBe('nothing planned');
    const fast = { ...carriage, wanted: { ...carriage.wanted, speed: 90000 } };
    const crossed = withValueAt(carriage, ['signal', 'driveForm'], 'quadrature');
    expect(standing(fast, data('not planned'), undefined).slice(0, 2)).toEqual(['4 to correct', '2 to correct']);
    expect(standing(crossed, undefined, undefined).slice(0, 2)).toEqual(['computed', '1 to correct']);
  });
});
