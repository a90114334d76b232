import { newCommand, withValueAt, type AxisDocument } from '@kavrid/contract';
import { describe, expect, it } from 'vitest';
import { demoAxes } from '../test/screen.tsx';
import { plannedTrain } from './pulseTrainJob.ts';

const [, lift] = demoAxes;
if (!lift) throw new Error('the demo has no lift');
const planned = (axis: AxisDocument) => {
  const train = plannedTrain(axis);
  if ('because' in train) throw new Error(train.because);
  return train;
};

describe('the pulses of an axis', () => {
  it('are those of its test move: 200 mm at 200 pulses/mm, over 0.1 + 0.2 + 2.5 s', () => {
    const { pulses, duration, order } = planned(lift);
    expect(pulses).toBe(40_000);
    // distance / speed + speed / acceleration + acceleration / jerk
    expect(duration).toBeCloseTo(200 / 80 + 80 / 400 + 400 / 4000, 9);
    expect(order).toMatchObject({ form: 'stepDirection', isMinus: false, pulseWidth: 1e-5, from: 0 });
  });

  it('go the other way with an inverted command', () => {
    expect(planned(withValueAt(lift, ['command', 'inverted'], true)).order.isMinus).toBe(true);
  });

  it('of an untimed train come evenly at its rate', () => {
    const command = { ...newCommand('untimedPulses', lift.command), form: 'quadrature', pulses: '1000', rate: 25_000 };
    const axis = { ...lift, command: { ...command, speedLimit: 100, acceleration: 1000 } } as AxisDocument;
    const { pulses, duration, order } = planned(axis);
    expect(pulses).toBe(1000);
    expect(duration).toBeCloseTo(0.04, 9);
    expect(order.form).toBe('quadrature');
    const times: number[] = [];
    order.train.each(1, 1000, (_, time) => times.push(time) > 0);
    expect(times).toHaveLength(1000);
    for (let k = 1; k < 1000; k++) expect((times[k] ?? 0) - (times[k - 1] ?? 0)).toBeCloseTo(1 / 25_000, 9);
  });

  it('are not known without a move, a train or steps per unit, and say why', () => {
    const because = (axis: AxisDocument) => {
      const train = plannedTrain(axis);
      return 'because' in train ? train.because : '';
    };
    expect(because(withValueAt(lift, ['testMove', 'distance'], null))).toContain('test move');
    expect(because(withValueAt(lift, ['stages', 0, 'lead'], ''))).toContain('the lead has not been entered');
    expect(because({ ...lift, command: newCommand('untimedPulses', lift.command) })).toContain('pulses of a train');
  });
});
