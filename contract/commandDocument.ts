import './withoutCodeGeneration.ts';
import { analogRanges, edgeActions, nothingMeanings, pickedKinds, pulseForms } from '@kavrid/core/signal';
import { z } from 'zod';
import { approximate, exactText, line } from './fields.ts';

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
  /** null: none */
  integralGain: approximate('integralGain'),
  velocityFeedforward: approximate('percent'),
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
/** What takes a drive's analog signal: a converter, or an amplifier that knows no steps. */
export const driveInputs = ['converted', 'purely analog'] as const;
export const analogOutputMeanings = ['torque', 'speed', 'following error'] as const;

const analogCommand = z.strictObject({
  kind: z.literal('analog'),
  ...scaledBase,
  meaning: z.enum(['speed', 'torque', 'position']),
  range: z.enum(analogRanges),
  /** The form in which the drive’s gain is keyed in. */
  gainForm: z.enum(gainForms),
  controllerBits: approximate('converterBits'),
  driveInput: z.enum(driveInputs),
  /** Of a drive whose input is converted. */
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
        /** Of a move that follows a signal: in the unit of the signal, and the position or speed that they mean. */
        signalFrom: approximate('anySignal'),
        valueFrom: approximate('anyValue'),
        signalTo: approximate('anySignal'),
        valueTo: approximate('anyValue'),
        /** The input that must be on before it follows; empty: none. */
        armingInput: line(20),
      }),
    )
    .max(64),
  /** Unit of the analog signal that moves follow. */
  signalUnit: z.enum(['V', 'mA']),
  edges: z
    .array(z.strictObject({ input: line(20), edge: z.enum(['rising', 'falling']), action: z.enum(edgeActions) }))
    .max(24),
  torqueInputs: z.array(line(20)).max(4),
  torqueLimits: z.array(z.strictObject({ pattern, limit: approximate('percent') })).max(16),
  /** s that a pattern must stand still before it counts; 0: every change counts at once */
  minimumInputDuration: approximate('dwell'),
  /** s from the first change until the inputs are looked at; 0: at once */
  startDelay: approximate('dwell'),
  /** What a pattern that picks nothing does to a move that runs. */
  nothing: z.enum(nothingMeanings),
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

export type CommandDocument = z.infer<typeof commandSchema>;
export type PulseCommand = Extract<CommandDocument, { readonly electrical: unknown }>;
export type ScaledCommandDocument = Extract<CommandDocument, { readonly from: unknown }>;
export type ChoiceCommandDocument = Extract<CommandDocument, { readonly kind: 'choice' }>;
