import './withoutCodeGeneration.ts';
import { brakeDrivers } from '@kavrid/core/chain';
import { homingMethods } from '@kavrid/core/homing';
import { outputKinds, pulseForms } from '@kavrid/core/signal';
import { z } from 'zod';
import { commandSchema } from './commandDocument.ts';
import { approximate, exactText, line, name } from './fields.ts';
import { keyingSchema, linkSchema, origin, unreadSchema } from './parts.ts';
import { stageSchema } from './stageDocument.ts';

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
  /** A that one output carries. */
  outputCurrent: approximate('current'),
});

const motion = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('linear'), travel: exactText }),
  z.strictObject({ kind: z.literal('rotary'), unit: z.enum(['deg', 'rev']), endless: z.boolean(), travel: exactText }),
  z.strictObject({ kind: z.literal('dosing'), travel: exactText }),
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

/** What the user says of a wire: its terminals, its core, its length in m. */
const wireSchema = z.strictObject({
  from: line(20),
  to: line(20),
  core: line(30),
  length: approximate('cableLength'),
});

const rotationSense = z.enum(['counterClockwise', 'clockwise']);

/** A second motor on the other side of a linear axis. */
const pairSchema = z
  .strictObject({
    mirrored: z.boolean(),
    secondSense: rotationSense,
    spacing: approximate('length'),
    squaring: z.enum(['none', 'two home switches', 'hard stops']),
    /** How far the switch of the second side comes on after that of the first, when the axis is square; towards plus positive. */
    squaringOffset: approximate('position'),
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

/** The gains of a drive. */
const gainFields = {
  speedBandwidth: approximate('bandwidth'),
  speedIntegralTime: approximate('integralTime'),
  positionGain: approximate('gain'),
  velocityFeedforward: approximate('percent'),
  accelerationFeedforward: approximate('percent'),
  /** Of the torque command: a first-order filter, and a notch with its width in % of its frequency and its depth. */
  torqueFilter: approximate('filterTime'),
  notchFrequency: approximate('notchFrequency'),
  notchWidth: approximate('notchWidth'),
  notchDepth: approximate('notchDepth'),
} as const;

/** An axis from its plates to its test move; `axisSchema` also reads its texts. */
export const axisObject = z.strictObject({
  kind: z.literal('axis'),
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
  /** Where each wire ends and what it is, by its key; see `wiresOf`. */
  wires: z.record(line(40), wireSchema),
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
    ...gainFields,
    torqueLimit: approximate('percent'),
    followingErrorWindow: approximate('distance'),
    minusSoftLimit: approximate('position'),
    plusSoftLimit: approximate('position'),
  }),
  brake: z.strictObject({
    drivenBy: z.enum(brakeDrivers),
    torque: approximate('torque'),
    /** From the signal until the brake is open, and until it holds; s */
    releaseDelay: approximate('dwell'),
    engageDelay: approximate('dwell'),
  }),
  homing: z.strictObject({
    /** Who runs the homing, and keeps the soft limits. */
    by: z.enum(['drive', 'controller']),
    method: z.literal(homingMethods),
    searchSpeed: approximate('speed'),
    creepSpeed: approximate('speed'),
    acceleration: approximate('acceleration'),
    /** What the position reads at the switch edge, index pulse or stop that counts. */
    positionAtHome: approximate('position'),
    /** Which index pulse counts: 1 is the first. */
    indexPulse: approximate('indexPulse'),
    /** Where the home switch comes on towards plus, from the minus limit, and over how long a way it is on. */
    homeSwitchFrom: approximate('position'),
    homeSwitchLength: approximate('distance'),
    /** Where any one of the index pulses comes, from the minus limit. */
    indexAt: approximate('position'),
    /** Where the hard stops are, from the minus limit. */
    minusStop: approximate('position'),
    plusStop: approximate('position'),
    /** How far out a switch goes off again, and the standard deviation of its edge. */
    hysteresis: approximate('distance'),
    switchScatter: approximate('distance'),
    /** s between two looks at the inputs, and for which an input must be steady */
    scanPeriod: approximate('dwell'),
    debounce: approximate('dwell'),
    /** The longest distance of one leg of the search; % of rated torque while it searches. */
    mostTravel: approximate('distance'),
    torqueLimit: approximate('percent'),
    /** Of the ramps; null: they begin at once. */
    jerk: approximate('jerk'),
    /** How far the edge of the switch wanders to either side with temperature. */
    switchDrift: approximate('distance'),
    homeContact: z.enum([...contact.options, 'not settled']),
    /** Where a second flag switches the home switch on; null: there is one. */
    secondFlagFrom: approximate('position'),
    /** An encoder that keeps its position without power; null: it does not. */
    absolute: z
      .strictObject({
        turns: approximate('encoderTurns'),
        /** Its turns count from 0 up, or to both sides of 0. */
        counts: z.enum(['from zero', 'to both sides']),
        /** Motor turns that it reads where home is. */
        turnsAtHome: approximate('turnsRead'),
        hasBattery: z.boolean(),
      })
      .nullable(),
  }),
  /** What the loops are tuned for. */
  tuning: z.strictObject({
    /** Of the speed loop. */
    wantedBandwidth: approximate('bandwidth'),
    /** The lowest at which motor and load swing against each other; null: not known. */
    resonance: approximate('resonance'),
    /** Excitation by which the frequency response is measured. */
    sweep: z.strictObject({
      from: approximate('resonance'),
      to: approximate('resonance'),
      /** Bounds of the excitation: % of rated torque, and travel. */
      torque: approximate('percent'),
      travel: approximate('distance'),
    }),
    /** Gains that the drive tries for a while; null: as planned. */
    trial: z.strictObject(gainFields),
  }),
  /** Moves beside the test move. */
  moves: z.strictObject({
    jogStep: approximate('distance'),
    target: approximate('position'),
    by: approximate('position'),
    /** Back and forth, the speed raised until a limit is reached. */
    faster: z.strictObject({
      from: approximate('speed'),
      step: approximate('speed'),
      to: approximate('speed'),
      followingError: approximate('distance'),
      torque: approximate('percent'),
    }),
    /** A speed given at once, and along a ramp. */
    response: z.strictObject({ speed: approximate('speed'), seconds: approximate('dwell') }),
    /** Until something holds the axis. */
    press: z.strictObject({
      speed: approximate('speed'),
      torque: approximate('percent'),
      travel: approximate('distance'),
      seconds: approximate('dwell'),
    }),
    /** A set-point that waits for a shaft that is held: no farther ahead than these, in speed and in position. */
    wait: z.strictObject({ speedGap: approximate('speed'), positionGap: approximate('distance') }),
    /** By the controller, through the real command path. */
    host: z.strictObject({
      distance: approximate('distance'),
      speed: approximate('speed'),
      repeats: approximate('repeats'),
    }),
  }),
  /** What the axis is accepted by; null: not judged. */
  acceptance: z.strictObject({
    followingError: approximate('distance'),
    settlingTime: approximate('dwell'),
    peakTorque: approximate('percent'),
    rmsTorque: approximate('percent'),
    homingRepeatability: approximate('distance'),
    positionRepeatability: approximate('distance'),
    travelError: approximate('distance'),
    lostPulses: approximate('countOrNone'),
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
  link: linkSchema,
  unread: unreadSchema,
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
export type { StageDocument } from './stageDocument.ts';
