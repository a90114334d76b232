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
const planFor = (device: string, axis: AxisDocument, change: (map: string) => string = (map) => map) => {
  const read = readDriveProfile(change(file(`bench/devices/${device}/${device}.csv`)));
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

  it('of a homing are as the map says that the drive has them', () => {
    const carriage = named('Carriage');
    const axis: AxisDocument = { ...carriage, homing: { ...carriage.homing, method: 'plusStop', positionAtHome: 100 } };
    const counts = (millimetres: number) => Math.round(millimetres * 9830.4);
    // By the text of CiA 402: the edge reads the offset with the other sign; soft limits of this drive count from zero.
    expect(planFor('servo', axis)).toMatchObject({
      homingMethod: -2,
      homeOffset: counts(-100),
      minusSoftLimit: counts(-8),
      plusSoftLimit: counts(1845),
      homingMostTravel: counts(2000),
    });
    const other = planFor('servo', axis, (map) =>
      map
        .replace('home offset,zero is home plus offset', 'home offset,home reads the offset')
        .replace('soft limits,zero', 'soft limits,home'),
    );
    expect(other).toMatchObject({ homeOffset: counts(100), plusSoftLimit: counts(1745) });
    // A map that does not say it is not written to, unless home reads zero.
    const silent = (of: AxisDocument) =>
      planFor('servo', of, (map) => map.replace(/^profile,(home offset|soft limits),.*\n/gm, ''));
    expect(silent(axis)).not.toHaveProperty('homeOffset');
    expect(silent(axis)).not.toHaveProperty('minusSoftLimit');
    expect(silent(carriage)).toMatchObject({ homeOffset: 0, minusSoftLimit: counts(-8) });
    const few = planFor('servo', axis, (map) => map.replace(/1-14 17-30 33 34 37.*?,/, '17 18,'));
    expect(few).not.toHaveProperty('homingMethod');
  });

  it.each([
    ['home offset,upside down', 'The home offset means'],
    ['soft limits,somewhere', 'The soft limits count from'],
    ['homing methods,15', 'are numbers of CiA 402'],
    ['homing methods,-1=nowhere', 'are numbers of CiA 402'],
  ])('a map that says “%s” is refused', (row, because) => {
    const map = file('bench/devices/servo/servo.csv').replace(
      /^profile,(home offset|soft limits|homing methods),.*\n/gm,
      '',
    );
    const read = readDriveProfile(
      map.replace('profile,word order', `profile,${row},,,,,,,,,,,,,,,,,\nprofile,word order`),
    );
    expect(read.kind === 'refused' && read.problems.join(' ')).toContain(because);
  });
});
