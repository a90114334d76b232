import './withoutCodeGeneration.ts';
import { z } from 'zod';
import { approximate, exactText, idSchema, line, name, versionSchema } from './fields.ts';
import { readAxis } from './toCore/readAxis.ts';

/** The library entry that data were taken from and its version then; null when they were typed by hand. */
const origin = z.strictObject({ id: idSchema, version: versionSchema }).nullable();

const encoder = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('lines'), lines: exactText }),
  z.strictObject({ kind: z.literal('bits'), bits: exactText }),
]);

export const motorSchema = z.strictObject({
  name,
  ratedPower: z.number().positive().max(1e7).nullable().describe('W'),
  ratedTorque: approximate('torque'),
  peakTorque: approximate('torque'),
  ratedSpeed: approximate('motorSpeed'),
  topSpeed: approximate('motorSpeed'),
  rotorInertia: approximate('rotorInertia'),
  encoder,
});

export const driveSchema = z.strictObject({
  name,
  numeratorMax: exactText,
  denominatorMax: exactText,
  ratioMin: exactText,
  ratioMax: exactText,
  differentialRate: approximate('pulseRate'),
  singleEndedRate: approximate('pulseRate'),
  counterBits: approximate('counterBits'),
});

export const controllerSchema = z.strictObject({ name, maximumPulseRate: approximate('pulseRate') });

const stageBase = {
  reverses: z.boolean(),
  efficiency: approximate('efficiency'),
  inertia: approximate('inertia'),
};
export const stageSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('direct'), ...stageBase }),
  z.strictObject({ kind: z.literal('gearbox'), ratio: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('beltDrive'), teeth: exactText, pitch: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('screw'), lead: exactText, starts: exactText, ...stageBase }),
  z.strictObject({
    kind: z.literal('beltReduction'),
    drivingTeeth: exactText,
    drivenTeeth: exactText,
    ...stageBase,
  }),
  z.strictObject({
    kind: z.literal('rack'),
    teeth: exactText,
    module: exactText,
    helixAngle: exactText,
    ...stageBase,
  }),
  z.strictObject({ kind: z.literal('roller'), diameter: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('wireDrum'), drumDiameter: exactText, wireDiameter: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('worm'), wheelTeeth: exactText, starts: exactText, ...stageBase }),
]);

const motion = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('linear'), travel: exactText }),
  z.strictObject({ kind: z.literal('rotary'), unit: z.enum(['deg', 'rev']), endless: z.boolean(), travel: exactText }),
  z.strictObject({ kind: z.literal('dosing'), outputPerTurn: exactText, travel: exactText }),
]);

const host = z
  .string()
  .trim()
  .max(253)
  .regex(/^[A-Za-z0-9.:-]+$/, 'A host name or an address is wanted, such as 127.0.0.1.');

const axisObject = z.strictObject({
  name,
  notes: z.string().max(4000),
  motion,
  plusEnd: line(80),
  motor: motorSchema.extend({ entry: origin }),
  drive: driveSchema.extend({ entry: origin }),
  controller: controllerSchema.extend({ entry: origin }),
  command: z.strictObject({
    kind: z.literal('stepDirection'),
    electrical: z.enum(['differential', 'singleEnded']),
    inverted: z.boolean(),
  }),
  gear: z.strictObject({ numerator: exactText, denominator: exactText }),
  stages: z.array(stageSchema).min(1).max(8),
  load: z.strictObject({
    mass: approximate('mass'),
    inertia: approximate('inertia'),
    friction: approximate('friction'),
    incline: approximate('incline'),
  }),
  wanted: z.strictObject({ resolution: exactText, speed: approximate('speed') }),
  settings: z.strictObject({
    rotationSense: z.enum(['counterClockwise', 'clockwise']),
    enableActiveLevel: z.enum(['high', 'low']),
    limitActiveLevel: z.enum(['high', 'low']),
    inertiaRatio: approximate('inertiaRatio'),
    positionGain: approximate('gain'),
    speedBandwidth: approximate('bandwidth'),
    speedIntegralTime: approximate('integralTime'),
    velocityFeedforward: approximate('percent'),
    torqueLimit: approximate('percent'),
    followingErrorWindow: approximate('distance'),
    minusSoftLimit: approximate('position'),
    plusSoftLimit: approximate('position'),
  }),
  homing: z.strictObject({
    method: z.union([z.literal(1), z.literal(17), z.literal(37)]),
    searchSpeed: approximate('speed'),
    creepSpeed: approximate('speed'),
    acceleration: approximate('acceleration'),
    homeOffset: approximate('position'),
  }),
  testMove: z.strictObject({
    from: approximate('position'),
    distance: approximate('distance'),
    speed: approximate('speed'),
    acceleration: approximate('acceleration'),
    jerk: approximate('jerk'),
    dwell: approximate('dwell'),
    repeats: approximate('repeats'),
  }),
  jogSpeed: approximate('speed'),
  link: z.strictObject({
    host,
    port: z.int().min(1).max(65535),
    unit: z.int().min(0).max(255),
    profileId: line(40).nullable(),
  }),
});

/** An axis from its plates to its test move. */
export const axisSchema = axisObject.superRefine((axis, context) => {
  for (const { path, message } of readAxis(axis).problems) {
    context.addIssue({
      code: 'custom',
      message,
      path: path
        .slice(1)
        .split('/')
        .map((part) => (/^\d+$/.test(part) ? Number(part) : part)),
    });
  }
});

export const machineSchema = z.strictObject({
  name,
  notes: z.string().max(4000),
  tags: z.array(line(30).min(1)).max(20),
  /** Out of the way of the list, but kept. */
  archived: z.boolean(),
});

export type AxisDocument = z.infer<typeof axisObject>;
export type MachineDocument = z.infer<typeof machineSchema>;
export type MotorDocument = z.infer<typeof motorSchema>;
export type DriveDocument = z.infer<typeof driveSchema>;
export type ControllerDocument = z.infer<typeof controllerSchema>;
export type StageDocument = z.infer<typeof stageSchema>;
