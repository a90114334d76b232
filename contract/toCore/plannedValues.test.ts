import { readFileSync } from 'node:fs';
import { evaluateAxis } from '@kavrid/core/chain';
import { describe, expect, it } from 'vitest';
import {
  axesAmong,
  axisInputOf,
  machineFileSchema,
  plannedValues,
  readDriveProfile,
  type AxisDocument,
} from '../index.ts';

const file = (path: string) => readFileSync(new URL(`../../${path}`, import.meta.url), 'utf8');
const demo = axesAmong(machineFileSchema.parse(JSON.parse(file('demo/tile-glazing-cell.json'))).axes);
const named = (name: string): AxisDocument => {
  const found = demo.find((axis) => axis.name === name);
  if (!found) throw new Error(`the demo has no ${name}`);
  return found;
};
const planFor = (device: string, axis: AxisDocument) => {
  const read = readDriveProfile(file(`bench/devices/${device}/${device}.csv`));
  if (read.kind === 'refused') throw new Error(read.problems.join(' '));
  const { input } = axisInputOf(axis);
  return plannedValues(axis, input, evaluateAxis(input), read.profile);
};

describe('planned values over a link', () => {
  it('of a drive with switches are the position that gives the planned pulses per revolution, or nothing', () => {
    const lift = named('Spray lift');
    // 4000 counts a turn and a ratio of 2 are 2000 pulses: the sixth position of its switches.
    expect(planFor('stepper', lift)).toMatchObject({ switchPositions: 5, pulseForm: 0, followingErrorWindow: 400 });
    const none = { ...lift, gear: { ...lift.gear, numerator: '3' } };
    expect(planFor('stepper', none)).not.toHaveProperty('switchPositions');
  });

  it('that are words are the number which stands for them in the map', () => {
    const carriage = named('Carriage');
    expect(planFor('servo', carriage)).toMatchObject({ pulseForm: 0, enableActiveLevel: 1, rotationSense: 0 });
    const quadrature = { ...carriage, command: { ...carriage.command, kind: 'quadrature' } as AxisDocument['command'] };
    expect(planFor('servo', quadrature)).toMatchObject({ pulseForm: 2 });
    // Kavrid moves the drive over the bus: its command source is not planned.
    expect(planFor('servo', carriage)).not.toHaveProperty('commandSource');
  });
});
