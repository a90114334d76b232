import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { spindleSignals } from '@kavrid/core/spindle';
import {
  axesAmong,
  machineFileSchema,
  newAxis,
  newCommand,
  newLoop,
  newMotor,
  newSpindle,
  newStage,
  spindlesAmong,
  type AxisDocument,
  type MemberDocument,
  type SpindleDocument,
  type StageDocument,
} from '../index.ts';

const demo = machineFileSchema.parse(
  JSON.parse(readFileSync(join(import.meta.dirname, '../../demo/tile-glazing-cell.json'), 'utf8')),
);
const axes = axesAmong(demo.axes);
const named = <T>(value: T | undefined): T => {
  if (value === undefined) throw new Error('the demo lacks something');
  return value;
};
const axisOf = (name: string) => named(axes.find((axis) => axis.name === name));
const carriage = axisOf('Carriage');
const turntable = axisOf('Turntable');
const grinder = named(spindlesAmong(demo.axes)[0]);

const filled = (kind: StageDocument['kind'], more: object): StageDocument =>
  ({ ...newStage(kind), efficiency: 0.9, inertia: 1e-5, backlash: 0.01, ...more }) as StageDocument;

const ending = (last: StageDocument, earlier: readonly StageDocument[] = []): AxisDocument => ({
  ...carriage,
  stages: [...earlier, last],
});

const signalled = (signal: (typeof spindleSignals)[number], top: string): SpindleDocument => ({
  ...grinder,
  command: {
    kind: 'signal',
    signal,
    from: { signal: signal === '4–20 mA' ? '4' : '0', hertz: '0 Hz' },
    to: { signal: top, hertz: '60 Hz' },
    senderSteps: 4096,
    takerSteps: 1024,
    controllerTop: 2400,
  },
});

/** Axes and spindles with every kind of command, stage, motor and signal, filled in, and new ones with nothing in them. */
export const memberKinds: readonly MemberDocument[] = [
  ...axes,
  grinder,
  newAxis('New', 'linear'),
  newAxis('Table', 'rotary'),
  newAxis('Pump', 'dosing'),
  newSpindle('Saw'),
  ending(filled('rack', { teeth: '20', module: '2 mm', helixAngle: '19.5283 deg' }), [
    filled('worm', { starts: '2', wheelTeeth: '40', backDriveEfficiency: 0.2 }),
  ]),
  ending(filled('roller', { diameter: '80 mm' }), [filled('beltReduction', { drivingTeeth: '20', drivenTeeth: '60' })]),
  ending(filled('wireDrum', { drumDiameter: '120 mm', wireDiameter: '3 mm' }), [
    filled('gearbox', { ratio: '491/49' }),
  ]),
  ending(
    filled('screw', {
      thread: 'sliding',
      lead: '4 mm',
      starts: '2',
      efficiency: 0.4,
      rootDiameter: 13,
      freeLength: 900,
      leftHand: true,
    }),
  ),
  { ...turntable, stages: [filled('direct', {}), filled('rotaryTable', { ratio: '90' })] },
  {
    ...carriage,
    stages: [filled('slide', { inertia: 3 })],
    motor: {
      ...newMotor.linear('Motor'),
      ratedForce: 120,
      peakForce: 400,
      topSpeed: 3000,
      movingMass: 1.2,
      countsPerMillimetre: '1000',
      entry: null,
    },
  },
  {
    ...carriage,
    pair: {
      mirrored: true,
      secondSense: 'clockwise',
      spacing: 900,
      squaring: 'two home switches',
      squaringOffset: null,
      skewLimit: 2,
      commonTrip: true,
    },
    command: {
      ...newCommand('untimedPulses', carriage.command),
      ...{ pulses: '1000', rate: 30000, repeatPeriod: 0.5, speedLimit: 500, acceleration: 4000 },
    } as AxisDocument['command'],
  },
  {
    ...turntable,
    command: {
      ...turntable.command,
      range: 'potentiometer',
      from: { signal: '5 V', value: '0' },
      to: { signal: '10 V', value: '3000 rpm' },
      loop: { ...newLoop(), outputPulses: '2500', errorLimit: 5, deceleration: 900 },
    } as AxisDocument['command'],
  },
  signalled('dial', '100'),
  signalled('0–10 V', '10'),
  signalled('0–20 mA', '20'),
  signalled('4–20 mA', '20'),
  signalled('PWM', '100'),
  signalled('pulse frequency', '10000'),
  {
    ...grinder,
    command: {
      kind: 'fixedSpeeds',
      speeds: [
        { pattern: '01', hertz: 20 },
        { pattern: '10', hertz: 40 },
        { pattern: '11', hertz: 60 },
      ],
    },
  },
];
