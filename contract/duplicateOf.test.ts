import { describe, expect, it } from 'vitest';
import { duplicateOf, memberSchema, newAxis, newCommand, newSpindle } from './index.ts';

const keying = {
  found: { 'drive/P1': '7' },
  notes: { 'drive/P1': 'knob' },
  given: { 'drive/M': '12' },
  done: ['drive/P1=5'],
};

describe('a duplicate', () => {
  it('of an axis is planned alike, and takes nothing along that was seen at the first', () => {
    const axis = newAxis('Lift', 'linear');
    const used = {
      ...axis,
      keying,
      settings: { ...axis.settings, torqueLimit: 120 },
      command: { ...newCommand('analog', {}), creep: 3, calibration: [{ signal: 1, value: 2 }] },
      measured: { ...axis.measured, travelCorrection: '1.001', turns: '10', counts: '40000' },
    } as const;
    const copy = duplicateOf(memberSchema.parse(used), 'Lift 2');
    expect(copy).toMatchObject({ name: 'Lift 2', settings: { torqueLimit: 120 }, measured: axis.measured });
    expect(copy.keying).toEqual({ found: {}, notes: { 'drive/P1': 'knob' }, given: { 'drive/M': '12' }, done: [] });
    expect(copy.command).toMatchObject({ kind: 'analog', creep: null, calibration: [] });
  });

  it('of a spindle leaves its tachometer behind', () => {
    const spindle = { ...newSpindle('Grinder'), keying, tachometer: { correction: '0.99', points: [] } };
    expect(duplicateOf(memberSchema.parse(spindle))).toMatchObject({
      name: 'Grinder',
      keying: { found: {}, done: [] },
      tachometer: { correction: '' },
    });
  });
});
