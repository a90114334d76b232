import './withoutCodeGeneration.ts';
import { analogRanges, edgeActions, outputKinds, pickedKinds, pulseForms } from '@kavrid/core/signal';
import { z } from 'zod';
import { approximate, exactText, idSchema, line, name, versionSchema } from './fields.ts';
import { readAxis } from './toCore/readAxis.ts';

/** The library entry that data were taken from and its version then; null when they were typed by hand. */
const origin = z.strictObject({ id: idSchema, version: versionSchema }).nullable();

const encoder = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('lines'), lines: exactText }),
  z.strictObject({ kind: z.literal('bits'), bits: exactText }),
]);

const rotaryMotor = z.strictObject({
  form: z.literal('rotary'),
  name,
  ratedPower: z.number().positive().max(1e7).nullable().describe('W'),
  ratedTorque: approximate('torque'),
  peakTorque: approximate('torque'),
  ratedSpeed: approximate('motorSpeed'),
  topSpeed: approximate('motorSpeed'),
  rotorInertia: approximate('rotorInertia'),
  encoder,
  ratedCurrent: approximate('current'),
  /** V for 1000 rpm, Ω, both between two leads; for motors on a low DC voltage. */
  voltageConstant: approximate('voltageConstant'),
  windingResistance: approximate('resistance'),
});

/** A motor that pushes along a line has counts per mm and no revolution. */
const linearMotor = z.strictObject({
  form: z.literal('linear'),
  name,
  ratedForce: approximate('force'),
  peakForce: approximate('force'),
  topSpeed: approximate('linearSpeed'),
  movingMass: approximate('mass'),
  countsPerMillimetre: exactText,
});
export const motorForms = { rotary: rotaryMotor, linear: linearMotor } as const;
export const motorSchema = z.discriminatedUnion('form', [rotaryMotor, linearMotor]);

export const ratioForms = ['numerator and denominator', 'pulses per revolution', 'switch table', 'multiplier'] as const;
const switchRow = z.strictObject({ switches: line(40), value: exactText });

export const driveSchema = z.strictObject({
  name,
  numeratorMax: exactText,
  denominatorMax: exactText,
  ratioMin: exactText,
  ratioMax: exactText,
  ratioForm: z.enum(ratioForms),
  /** Its manual writes counts = increments × D / N. */
  ratioInverted: z.boolean(),
  /** Pulses per revolution by position of its switches. */
  switchTable: z.array(switchRow).max(64),
  /** Gear ratios that its inputs choose among. */
  gearSets: approximate('gearSets'),
  differentialRate: approximate('pulseRate'),
  singleEndedRate: approximate('pulseRate'),
  minimumPulseWidth: approximate('pulseWidth'),
  directionSetUp: approximate('pulseWidth'),
  pulseInput: z.strictObject({
    kind: z.enum(['optocoupler', 'receiver']),
    forwardVoltage: approximate('voltage'),
    resistance: approximate('resistance'),
    minimumCurrent: approximate('current'),
    maximumCurrent: approximate('current'),
  }),
  counterBits: approximate('counterBits'),
  supply: z.strictObject({
    kind: z.enum(['AC', 'DC']),
    phases: z.enum(['1', '3', '1 or 3', '']),
    minimum: approximate('voltage'),
    maximum: approximate('voltage'),
    reversePolaritySafe: z.boolean(),
  }),
});

export const controllerSchema = z.strictObject({
  name,
  maximumPulseRate: approximate('pulseRate'),
  outputs: z.array(z.enum(outputKinds)).max(outputKinds.length),
  outputVoltage: approximate('voltage'),
  /** V lost in an output that conducts. */
  outputDrop: approximate('voltage'),
});

const stageBase = {
  reverses: z.boolean(),
  efficiency: approximate('efficiency'),
  inertia: approximate('inertia'),
  /** The full difference at its output: deg of a shaft, or the unit of the travel. */
  backlash: approximate('backlashTravel'),
  /** rpm of the shaft that drives it; mm/s for a slide. */
  speedLimit: approximate('motorSpeed'),
};
export const screwBearings = ['fixed and free', 'supported at both', 'fixed and supported', 'fixed at both'] as const;
export const stageSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('direct'), ...stageBase }),
  z.strictObject({ kind: z.literal('gearbox'), ratio: exactText, ...stageBase }),
  z.strictObject({
    kind: z.literal('beltDrive'),
    teeth: exactText,
    pitch: exactText,
    specificStiffness: approximate('pull'),
    freeLength: approximate('length'),
    ...stageBase,
  }),
  z.strictObject({
    kind: z.literal('screw'),
    lead: exactText,
    starts: exactText,
    leftHand: z.boolean(),
    rootDiameter: approximate('length'),
    freeLength: approximate('length'),
    bearings: z.enum(screwBearings),
    ...stageBase,
  }),
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
  z.strictObject({ kind: z.literal('rotaryTable'), ratio: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('dosingHead'), outputPerTurn: exactText, ...stageBase }),
  z.strictObject({ kind: z.literal('slide'), ...stageBase }),
]);

const motion = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('linear'), travel: exactText }),
  z.strictObject({ kind: z.literal('rotary'), unit: z.enum(['deg', 'rev']), endless: z.boolean(), travel: exactText }),
  z.strictObject({ kind: z.literal('dosing'), travel: exactText }),
]);

const host = z
  .string()
  .trim()
  .max(253)
  .regex(/^[A-Za-z0-9.:-]+$/, 'A host name or an address is wanted, such as 127.0.0.1.');

const pulseBase = { electrical: z.enum(['differential', 'singleEnded']), inverted: z.boolean() };

/** A signal in V, mA or %, and what it means: rpm (mm/s of a linear motor), % of rated torque, or a position. */
const scalePoint = z.strictObject({ signal: exactText, value: exactText });
const scaledBase = {
  inverted: z.boolean(),
  from: scalePoint,
  to: scalePoint,
  /** The drive trips when the signal is lost. */
  faultDetected: z.boolean(),
  /** The signal that stands while the drive is enabled. */
  standing: exactText,
  switchedOn: z.boolean(),
  /** rpm (mm/s) seen at zero command */
  creep: approximate('creep'),
  /** V, mA or % that one step of the drive's offset trim is worth */
  trimStep: approximate('trimStep'),
  /** Points measured with the drive running: signal and what it really gave. */
  calibration: z.array(z.strictObject({ signal: approximate('anySignal'), value: approximate('anyValue') })).max(200),
};

const loopSchema = z.strictObject({
  gain: approximate('gain'),
  period: approximate('loopPeriod'),
  outputPulses: exactText,
  outputRate: approximate('pulseRate'),
  inputRate: approximate('pulseRate'),
  feedbackInverted: z.boolean(),
  errorLimit: approximate('distance'),
  reactionTime: approximate('dwell'),
  deceleration: approximate('acceleration'),
});

export const gainForms = ['value at full signal', 'value for one of signal'] as const;
export const analogOutputMeanings = ['torque', 'speed', 'following error'] as const;

const analogCommand = z.strictObject({
  kind: z.literal('analog'),
  ...scaledBase,
  meaning: z.enum(['speed', 'torque', 'position']),
  range: z.enum(analogRanges),
  /** How the drive is told its gain. */
  gainForm: z.enum(gainForms),
  controllerBits: approximate('converterBits'),
  driveBits: approximate('converterBits'),
  /** V or mA either side of zero */
  deadband: approximate('signalDeadband'),
  filter: approximate('dwell'),
  potentiometer: z.strictObject({
    resistance: approximate('potResistance'),
    /** % of the turn at each end */
    deadEnd: approximate('deadEnd'),
    referenceVoltage: approximate('referenceVoltage'),
    referenceCurrent: approximate('current'),
    inputResistance: approximate('potResistance'),
  }),
  /** A position loop in the controller; null: the drive closes its own. */
  loop: loopSchema.nullable(),
  /** What the drive's analog outputs tell: V at full scale, and what they mean there. */
  outputs: z
    .array(
      z.strictObject({
        meaning: z.enum(analogOutputMeanings),
        volts: approximate('voltage'),
        value: approximate('anyValue'),
      }),
    )
    .max(4),
});

const pwmCommand = z.strictObject({
  kind: z.literal('pwm'),
  ...scaledBase,
  meaning: z.enum(['speed', 'position']),
  carrier: approximate('pulseRate'),
  /** The generator by its bits, or by the clock of its timer. */
  generatorBits: approximate('converterBits'),
  generatorClock: approximate('pulseRate'),
  captureClock: approximate('pulseRate'),
  rawFullScale: exactText,
  numeratorMax: exactText,
  denominatorMax: exactText,
  directions: z.enum(['one', 'both']),
  /** What else its terminal is set to be. */
  sharedWith: line(60),
});

const pattern = z.string().max(8);
const choiceCommand = z.strictObject({
  kind: z.literal('choice'),
  inverted: z.boolean(),
  inputs: z.array(line(20)).min(1).max(6),
  storedMoves: approximate('storedMoves'),
  moves: z
    .array(
      z.strictObject({
        pattern,
        kind: z.enum(pickedKinds),
        name: line(60),
        target: approximate('position'),
        fence: approximate('position'),
        speed: approximate('anySpeed'),
        acceleration: approximate('acceleration'),
        deceleration: approximate('acceleration'),
        torqueLimit: approximate('percent'),
        window: approximate('distance'),
      }),
    )
    .max(64),
  edges: z
    .array(z.strictObject({ input: line(20), edge: z.enum(['rising', 'falling']), action: z.enum(edgeActions) }))
    .max(24),
  torqueInputs: z.array(line(20)).max(4),
  torqueLimits: z.array(z.strictObject({ pattern, limit: approximate('percent') })).max(16),
  trigger: z.strictObject({ kind: z.enum(['direct', 'debounced', 'delayed']), time: approximate('dwell') }),
  /** s within which inputs that change together really change */
  skew: approximate('dwell'),
  homing: z.enum(['never', 'if not homed', 'at every enable']),
  patternAtEnable: pattern,
});

export const commandSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('stepDirection'), ...pulseBase }),
  z.strictObject({ kind: z.literal('clockwisePulses'), ...pulseBase }),
  z.strictObject({ kind: z.literal('quadrature'), ...pulseBase }),
  z.strictObject({
    kind: z.literal('untimedPulses'),
    ...pulseBase,
    form: z.enum(pulseForms),
    pulses: exactText,
    rate: approximate('pulseRate'),
    /** s from the start of one train to the start of the next; null where nothing repeats. */
    repeatPeriod: approximate('time'),
    speedLimit: approximate('speed'),
    acceleration: approximate('acceleration'),
    smoothing: approximate('dwell'),
  }),
  analogCommand,
  pwmCommand,
  choiceCommand,
]);

/** What has been measured at the axis, and what of it was accepted. */
const measuredSchema = z.strictObject({
  /** True travel over what the plates say; empty: nothing was corrected. */
  travelCorrection: exactText,
  /** The correction that was in force when the points were measured. */
  measuredWith: exactText,
  turns: exactText,
  counts: exactText,
  /** ± axis units that the gauge may be off */
  gauge: approximate('backlashTravel'),
  travel: z
    .array(
      z.strictObject({
        commanded: approximate('position'),
        measured: approximate('position'),
        going: z.enum(['plus', 'minus']),
      }),
    )
    .max(500),
});

const level = z.enum(['high', 'low']);
const contact = z.enum(['normallyClosed', 'normallyOpen']);

/** The pulse cable between controller and drive. */
export const cableSchema = z.strictObject({
  name,
  /** Ω in each line, in the cable or at its ends; null: none */
  resistor: approximate('resistance'),
  /** m */
  length: approximate('cableLength'),
  shield: z.enum(['none', 'one end', 'both ends']),
  commonReference: z.boolean(),
  /** Ω across a differential line at the drive; null: open */
  termination: approximate('resistance'),
  /** Which pin goes where. */
  pins: z
    .array(z.strictObject({ signal: line(40), controllerPin: line(20), drivePin: line(20), colour: line(20) }))
    .max(64),
});

/** How the pulses are sent. */
const signalSchema = z.strictObject({
  driveForm: z.enum(pulseForms),
  controllerActive: level,
  driveActive: level,
  output: z.enum(outputKinds),
  /** s; null: half of each period */
  pulseWidth: approximate('pulseWidth'),
  directionSetUp: approximate('pulseWidth'),
});

/** What keeps the axis from harm, as wired. */
const protectionSchema = z.strictObject({
  enable: z.strictObject({ isWired: z.boolean(), controllerLevel: level }),
  alarm: z.strictObject({
    contact,
    joined: z.enum(['alone', 'series', 'parallel']),
    drives: approximate('drives'),
  }),
  /** At which end the switch stands that is wired to the drive's plus limit. */
  limits: z.strictObject({ contact, plusInputAt: z.enum(['plus', 'minus', 'not settled']) }),
  safeTorqueOff: z.enum(['none', 'bridged', 'one channel', 'two channels']),
});

const rotationSense = z.enum(['counterClockwise', 'clockwise']);

/** A second motor on the other side of a linear axis. */
const pairSchema = z
  .strictObject({
    mirrored: z.boolean(),
    secondSense: rotationSense,
    spacing: approximate('length'),
    squaring: z.enum(['none', 'two home switches', 'hard stops']),
    skewLimit: approximate('distance'),
    commonTrip: z.boolean(),
  })
  .nullable();

/** The DC supply of a low-voltage drive; axes that name the same one share it. */
const supplySchema = z.strictObject({
  name: line(80),
  voltage: approximate('voltage'),
  ratedCurrent: approximate('current'),
  otherCurrent: approximate('otherCurrent'),
  capacitance: approximate('capacitance'),
  takesEnergyBack: z.boolean(),
});

const shortText = line(60);
/** What was found set at an end and the user's own note beside it, by `end/code`; what was keyed in, as `end/code=value`. */
const keyingSchema = z.strictObject({
  found: z.record(shortText, shortText),
  notes: z.record(shortText, line(300)),
  done: z.array(line(120)).max(2000),
});

const axisObject = z.strictObject({
  name,
  notes: z.string().max(4000),
  motion,
  plusEnd: line(80),
  motor: z.discriminatedUnion('form', [rotaryMotor.extend({ entry: origin }), linearMotor.extend({ entry: origin })]),
  drive: driveSchema.extend({ entry: origin }),
  controller: controllerSchema.extend({ entry: origin }),
  command: commandSchema,
  signal: signalSchema,
  cable: cableSchema.extend({ entry: origin }),
  protection: protectionSchema,
  gear: z.strictObject({
    numerator: exactText,
    denominator: exactText,
    /** Further ratios that inputs of the drive switch to. */
    sets: z.array(z.strictObject({ name: line(40), numerator: exactText, denominator: exactText })).max(15),
    switchedInMotion: z.boolean(),
  }),
  stages: z.array(stageSchema).min(1).max(8),
  load: z.strictObject({
    mass: approximate('mass'),
    inertia: approximate('inertia'),
    friction: approximate('friction'),
    incline: approximate('incline'),
  }),
  wanted: z.strictObject({ resolution: exactText, speed: approximate('speed') }),
  settings: z.strictObject({
    rotationSense,
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
  measured: measuredSchema,
  pair: pairSchema,
  supply: supplySchema,
  keying: keyingSchema,
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
export type CableDocument = z.infer<typeof cableSchema>;
export type CommandDocument = z.infer<typeof commandSchema>;
export type StageDocument = z.infer<typeof stageSchema>;
export type PulseCommand = Extract<CommandDocument, { readonly electrical: unknown }>;
export type ScaledCommandDocument = Extract<CommandDocument, { readonly from: unknown }>;
export type ChoiceCommandDocument = Extract<CommandDocument, { readonly kind: 'choice' }>;
