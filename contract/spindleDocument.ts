import './withoutCodeGeneration.ts';
import { atSpeedWays, lostLinkActions, runSources, speedSources, spindleSignals, stopWays } from '@kavrid/core/spindle';
import { z } from 'zod';
import { approximate, exactText, idSchema, line, name, versionSchema } from './fields.ts';
import { keyingSchema, linkSchema, origin, unreadSchema } from './parts.ts';

/** The plate of a spindle motor, and what its data sheet adds. */
export const spindleMotorSchema = z.strictObject({
  name,
  /** W at the shaft, Hz, rpm at full load */
  power: approximate('power'),
  hertz: approximate('hertz'),
  speed: approximate('motorSpeed'),
  /** null: they follow from hertz and rpm */
  poles: approximate('poles'),
  starVolts: approximate('plateVolts'),
  starAmps: approximate('current'),
  deltaVolts: approximate('plateVolts'),
  deltaAmps: approximate('current'),
  powerFactor: approximate('efficiency'),
  /** Torque over rated torque for a moment */
  overload: approximate('overload'),
  rotorInertia: approximate('rotorInertia'),
  bearingSpeed: approximate('motorSpeed'),
  /** Hz below which its own fan cools too little; 0: cooled otherwise */
  coolingHertz: approximate('hertzOrNone'),
});

export const registerPurposes = [
  'run and direction',
  'speed reference',
  'status',
  'trip',
  'actual speed',
  'reset',
  'other',
] as const;

/** A variable-frequency drive or a spindle drive. */
export const spindleDriveSchema = z.strictObject({
  name,
  ratedCurrent: approximate('current'),
  /** Current over rated current for a minute */
  overload: approximate('overload'),
  supplyLeast: approximate('plateVolts'),
  supplyMost: approximate('plateVolts'),
  phases: z.enum(['1', '3', '1 or 3', '']),
  highestHertz: approximate('hertz'),
  /** Hz in which it sets its output */
  resolution: approximate('hertz'),
  /** µF of its DC bus; V at which it trips, at which its chopper works, below which it gives up */
  capacitance: approximate('capacitance'),
  tripVolts: approximate('plateVolts'),
  chopperVolts: approximate('plateVolts'),
  leastVolts: approximate('plateVolts'),
  hasChopper: z.boolean(),
  leastOhms: approximate('resistance'),
  idlePower: approximate('powerOrNone'),
  /** min until its capacitors are empty */
  dischargeTime: approximate('minutes'),
  /** s that it takes to answer a message, at the most */
  answerDelay: approximate('rampTime'),
  /** Its manual counts registers from 1. */
  oneBased: z.boolean(),
  registers: z
    .array(
      z.strictObject({
        name: line(40).min(1, 'A register needs a name.'),
        purpose: z.enum(registerPurposes),
        /** zero-based */
        register: approximate('register'),
        functionCode: z.enum(['3', '4', '6', '16']),
        /** `1 = run; 2 = reverse` */
        meaning: line(200),
      }),
    )
    .max(64),
});

const end = z.strictObject({
  baud: approximate('baud'),
  parity: z.enum(['none', 'even', 'odd']),
  stopBits: z.enum(['1', '2']),
  address: approximate('busAddress'),
  positiveLabel: line(8),
  negativeLabel: line(8),
});

const signalPoint = z.strictObject({ signal: exactText, hertz: exactText });

/** How the speed of a spindle is commanded. */
export const spindleCommandSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('signal'),
    signal: z.enum(spindleSignals),
    from: signalPoint,
    to: signalPoint,
    /** Steps over the whole range at either end; null: stepless */
    senderSteps: approximate('steps'),
    takerSteps: approximate('steps'),
    /** rpm of the tool at which the controller sends its full signal */
    controllerTop: approximate('motorSpeed'),
  }),
  z.strictObject({
    kind: z.literal('fixedSpeeds'),
    speeds: z
      .array(
        z.strictObject({
          pattern: z.string().regex(/^[01]{1,8}$/, 'Enter the levels of the inputs, such as 10.'),
          hertz: approximate('hertzOrNone'),
        }),
      )
      .max(32),
  }),
  z.strictObject({
    kind: z.literal('fieldBus'),
    counts: z.enum(['hertz', 'rpm', 'share']),
    /** Hz or rpm that a count is worth */
    each: approximate('countValue'),
    /** Counts of full scale, and the Hz that they are */
    fullScale: approximate('fullScale'),
    fullHertz: approximate('hertz'),
    signed: z.boolean(),
    bits: z.enum(['16', '32']),
  }),
]);

/** A spindle from its plate to its run test; `spindleSchema` also reads its texts. */
export const spindleObject = z.strictObject({
  kind: z.literal('spindle'),
  name,
  notes: z.string().max(4000),
  motor: spindleMotorSchema.extend({ entry: origin }),
  drive: spindleDriveSchema.extend({ entry: origin }),
  controller: z.strictObject({ name, entry: z.strictObject({ id: idSchema, version: versionSchema }).nullable() }),
  supply: z.strictObject({
    volts: approximate('plateVolts'),
    phases: z.enum(['1', '3']),
    fuse: approximate('current'),
    isEarthed: z.boolean(),
  }),
  settings: z.strictObject({
    connection: z.enum(['star', 'delta']),
    protectionCurrent: approximate('current'),
    baseHertz: approximate('hertz'),
    baseVolts: approximate('plateVolts'),
    boost: approximate('voltage'),
    points: z.array(z.strictObject({ hertz: approximate('hertz'), volts: approximate('voltage') })).max(3),
    highestHertz: approximate('hertz'),
    lowestHertz: approximate('hertzOrNone'),
    rampUp: approximate('rampTime'),
    rampDown: approximate('rampTime'),
    stopWay: z.enum(stopWays),
    runSource: z.enum(runSources),
    speedSource: z.enum(speedSources),
  }),
  resistor: z.strictObject({ ohms: approximate('resistance'), power: approximate('power') }).nullable(),
  belt: z.strictObject({
    /** Motor turns for one turn of the tool, by the step of the belt. */
    steps: z
      .array(z.strictObject({ name: line(40), ratio: exactText }))
      .min(1)
      .max(8),
    inUse: z.int().min(0).max(7),
    speedLimit: approximate('motorSpeed'),
    reverses: z.boolean(),
    pulleyInertia: approximate('inertia'),
    frictionTorque: approximate('frictionTorque'),
  }),
  tool: z.strictObject({
    name: line(80),
    diameter: approximate('length'),
    topSpeed: approximate('motorSpeed'),
    rimSpeed: approximate('rimSpeed'),
    inertia: approximate('inertia'),
  }),
  wanted: z.strictObject({
    speed: approximate('motorSpeed'),
    topSpeed: approximate('motorSpeed'),
    startTime: approximate('rampTime'),
    stopTime: approximate('rampTime'),
    stopEvery: approximate('time'),
  }),
  command: spindleCommandSchema,
  bus: z.strictObject({
    controller: end,
    drive: end,
    crossed: z.boolean(),
    /** s */
    period: approximate('rampTime'),
    /** s; 0: the drive does not watch its link */
    timeOut: approximate('dwell'),
    lostLink: z.enum(lostLinkActions),
    /** The controller counts registers from 1. */
    oneBased: z.boolean(),
    messages: z
      .array(
        z.strictObject({
          name: line(40).min(1, 'A message needs a name.'),
          functionCode: z.enum(['3', '4', '6', '16']),
          /** zero-based, the first of them */
          register: approximate('register'),
          registers: approximate('registerCount'),
        }),
      )
      .max(32),
  }),
  interlocks: z.strictObject({
    enable: z.enum(['wired to the chain', 'link in place', 'nothing there', 'not needed']),
    tripStopsMachine: z.boolean(),
    atSpeed: z.enum(atSpeedWays),
    runSource: z.enum(runSources),
    guardLock: z.boolean(),
  }),
  tachometer: z.strictObject({
    /** True speed over what plate and belt say; empty: nothing was corrected. */
    correction: exactText,
    points: z
      .array(z.strictObject({ commanded: approximate('motorSpeed'), measured: approximate('motorSpeed') }))
      .max(200),
  }),
  runTest: z.strictObject({
    speeds: z.array(z.strictObject({ at: approximate('dwell'), speed: approximate('toolSpeed') })).max(12),
    /** N·m at the tool; null: none */
    loadTorque: approximate('torque'),
    loadAt: approximate('dwell'),
    loadUntil: approximate('dwell'),
    stopAt: approximate('dwell'),
    /** s; null: the supply stays */
    cutAt: approximate('dwell'),
    cutUntil: approximate('dwell'),
    withResistor: z.boolean(),
    duration: approximate('runTime'),
  }),
  /** What the spindle is accepted by: % of the demanded speed that it is off at most; null: not judged. */
  acceptance: z.strictObject({ speedError: approximate('percent') }),
  keying: keyingSchema,
  link: linkSchema,
  unread: unreadSchema,
});

export type SpindleDocument = z.infer<typeof spindleObject>;
export type SpindleMotorDocument = z.infer<typeof spindleMotorSchema>;
export type SpindleDriveDocument = z.infer<typeof spindleDriveSchema>;
export type SpindleCommandDocument = z.infer<typeof spindleCommandSchema>;
