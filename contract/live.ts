import './withoutCodeGeneration.ts';
import type { DeviceState, DriveStanding, HomingForm, ParameterComparison, PlateComparison } from '@kavrid/core/drive';
import type { Evidence } from '@kavrid/core/evidence';
import type { HomingInput } from '@kavrid/core/homing';
import type {
  AskedNumber,
  DeviceAddress,
  DeviceIdentity,
  Question,
  SensorWalk,
  StepPhase,
  StepResult,
  SessionMessage,
  TemporarySetting as KeptSetting,
  WriteAndVerifyState,
} from '@kavrid/core/procedure';
import { z } from 'zod';
import { baudRates, linkSchema } from './parts.ts';
import type { RunKind, RunSummary } from './records.ts';

// What travels over the live line between a window and the server.

/** A drive value changed for a test, until it is restored; both values in words or with their unit, where the map is known. */
export interface TemporarySetting extends Omit<KeptSetting, 'original' | 'temporary'> {
  readonly original: string;
  readonly temporary: string;
  /** It belongs to the device that is connected now, and can be restored. */
  readonly isHere: boolean;
}

export type Activity =
  | 'idle'
  | 'enabling'
  | 'jogging'
  | 'going to start'
  | 'homing series'
  | 'noting home'
  | 'running'
  | RunKind
  | 'writing drive data'
  | 'restoring'
  | 'forcing inputs'
  | 'guided step'
  | 'resetting a fault'
  | 'restarting'
  | 'stopping';

/** A reading of a device, described once; `{u}` in its unit stands for the axis unit. */
export interface LiveChannel {
  readonly id: string;
  readonly label: string;
  readonly unit: string;
  readonly decimals: number;
}

/** The readings that a device has, and those that are known now, by id. */
export interface LiveReadings {
  readonly channels: readonly LiveChannel[];
  readonly values: Readonly<Record<string, number>>;
}

/** An input of a drive: the level at its terminal, and what it means. */
export interface LiveInput {
  readonly key: string;
  readonly label: string;
  readonly isSensor: boolean;
  /** Current flows; undefined where the drive does not tell. */
  readonly level: boolean | undefined;
  readonly isActive: boolean | undefined;
  readonly isForced: boolean;
  /** The drive lets it be forced. */
  readonly isForcible: boolean;
}

/** An output of a drive. */
export interface LiveOutput {
  readonly key: string;
  readonly label: string;
  /** It is on, or its contact is closed; undefined where the drive does not tell. */
  readonly isOn: boolean | undefined;
}

/** The simulated devices beside the one that is linked. */
export interface BenchState {
  readonly switches: readonly {
    readonly id: string;
    readonly label: string;
    /** `hand`: what a hand at the machine does; `fault`: what is wrong. */
    readonly group: string;
    readonly isOn: boolean;
  }[];
  /** The simulated controller that commands the linked drive; absent where nothing commands it but the bus. */
  readonly host?: {
    readonly name: string;
    readonly controls: readonly BenchControl[];
    /** What its own inputs see: current at the terminal, and what that means. */
    readonly inputs: readonly {
      readonly key: string;
      readonly label: string;
      readonly level: boolean;
      readonly isActive: boolean;
    }[];
  };
}

/** What can be switched, set or read at a simulated controller, as its register map lists it. */
export interface BenchControl {
  readonly id: string;
  readonly label: string;
  /** `step` is a distance to move in plus or minus direction, `start` a number with which a motion starts, `value` an output that stays. */
  readonly kind: 'switch' | 'step' | 'start' | 'value' | 'button' | 'stop' | 'reading' | 'state';
  /** In the unit. */
  readonly value: number;
  readonly unit: string;
}

/** What the screen knows of any drive, twenty times a second. Readings that are too old to be believed are absent. */
export interface LinkLive {
  readonly memberId: string;
  readonly link: 'off' | 'connecting' | 'up' | 'lost';
  readonly message: string;
  readonly deviceState: DeviceState | undefined;
  readonly activity: Activity;
  readonly fault: string | undefined;
  /** What the drive remembers of earlier faults, the newest first. */
  readonly pastFaults: readonly string[];
  readonly progress: string;
  /** ms; undefined while it is not set, and then nothing may be jogged or run. */
  readonly watchdog: number | undefined;
  readonly temporary: readonly TemporarySetting[];
  /** The saved version that commands are carried out by. */
  readonly version: number | undefined;
  readonly holder: 'nobody' | 'this window' | 'another window';
  /** Enabled by its terminals or by another master. */
  readonly isWatchOnly: boolean;
  readonly identity:
    (DeviceIdentity & { readonly mark: string; readonly isWeak: boolean; readonly isConfirmed: boolean }) | undefined;
  /** Revisions that the register map was made for, where the drive has another; undefined: it fits, or nobody knows. */
  readonly otherFirmware: readonly number[] | undefined;
  /** A stop has been ordered and has not been seen to work. */
  readonly isStopping: boolean;
  /** What the register map lacks, so that it was not compared with the plan. */
  readonly unchecked: readonly string[];
  readonly readings: LiveReadings;
  /** Inputs of the drive, as its map describes them; without readings where they are too old to be believed. */
  readonly inputs: readonly LiveInput[];
  readonly outputs: readonly LiveOutput[];
  readonly walk: SensorWalk | undefined;
  /** Address of the connected device; fixed until it is disconnected. */
  readonly address: DeviceAddress | undefined;
}

/** … of the drive of an axis. */
export interface LiveState extends LinkLive {
  readonly kind: 'axis';
  readonly position: number | undefined;
  readonly minusLimit: boolean;
  readonly plusLimit: boolean;
  readonly homed: boolean;
  /** Axis units/s, and what sets it; undefined while the scaling is not known. */
  readonly jogLimit: { readonly speed: number; readonly by: string } | undefined;
  readonly isSuspended: boolean;
  /** Where home came to in the homing series of this connection, in axis units from the first; undefined: there was none. */
  readonly homingSeries:
    | {
        readonly of: number;
        readonly homes: readonly number[];
        readonly startedAt: number;
        readonly by: 'drive' | 'controller' | 'over';
        readonly isPaused: boolean;
      }
    | undefined;
  /** What the register map says of the homing of the drive, and the switches that have an input; undefined: there is none. */
  readonly homing: (HomingForm & { readonly switches: readonly HomingInput[] }) | undefined;
}

/** … of the drive of a spindle. */
export interface SpindleLive extends LinkLive {
  readonly kind: 'spindle';
  /** rpm */
  readonly toolSpeed: number | undefined;
  readonly atSpeed: boolean;
}

export interface DriveData {
  readonly comparisons: readonly ParameterComparison[];
  /** The plates beside what the drive reports of its motor. */
  readonly plates: readonly PlateComparison[];
  /** By what was read of this device, for the plan as it stands. */
  readonly standing: DriveStanding;
  /** What matters for motion and is not in the register map, in words: nothing is known of it. */
  readonly notInMap: readonly string[];
  /** ISO; absent: nothing has been read. */
  readonly readAt?: string;
  /** The last proof of this device, and why it does not hold any more. */
  readonly proof?: Pick<Evidence, 'madeAt' | 'revision' | 'identity'> & { readonly staleBecause?: string };
  readonly procedure: Pick<WriteAndVerifyState, 'phase' | 'log' | 'because'> & {
    /** Where the values come from that are written. */
    readonly target: 'plan' | { readonly label: string };
    /** What is still to be written, in that order, raw; in review, what would be. */
    readonly toWrite: readonly { readonly key: string; readonly from?: number | undefined; readonly to: number }[];
    /** Keys that the drive has taken. */
    readonly written: readonly string[];
    /** The key of a write that was not answered. */
    readonly inDoubt?: string;
    readonly isStored: boolean;
  };
}

const speed = z.number().positive().max(1e7);
const version = z.int().min(1);
const press = z.int().min(1);
const direction = z.union([z.literal(1), z.literal(-1)]);
const stepId = z.string().max(40);
const given = z
  .record(z.string().max(40), z.number().min(-1e9).max(1e9))
  .refine((numbers) => Object.keys(numbers).length <= 10);
const message = <T extends string, S extends z.ZodRawShape>(type: T, more: S) =>
  z.strictObject({ type: z.literal(type), ...more });

/** Which line is searched, and which addresses at which baud rates. */
export const searchOrderSchema = z
  .strictObject({
    link: linkSchema,
    bauds: z.array(z.literal(baudRates)).max(baudRates.length),
    from: z.int().min(0).max(247),
    to: z.int().min(0).max(247),
  })
  .refine(({ from, to }) => from <= to);
export type SearchOrder = z.infer<typeof searchOrderSchema>;

/** How far a search is, and what has answered. */
export interface FoundDevices {
  readonly isRunning: boolean;
  readonly done: number;
  readonly total: number;
  readonly devices: readonly {
    readonly unit: number;
    readonly baud?: (typeof baudRates)[number];
    readonly answer: 'a value' | 'an exception';
  }[];
  /** Why it ended before its end. */
  readonly because?: string;
}

/** What a window says. Whatever sets a drive in motion or changes it names the version that is on screen. */
export const clientMessageSchema = z.discriminatedUnion('type', [
  message('watch', { memberId: z.string().max(40) }),
  message('connect', { version, isFarConfirmed: z.boolean().optional() }),
  message('disconnect', {}),
  message('confirmIdentity', { mark: z.string().max(40) }),
  message('takeOver', {}),
  message('enable', { version, isPropped: z.boolean() }),
  message('disable', {}),
  message('resetFault', {}),
  message('jog', { version, press, direction, speed, by: z.enum(['lever', 'fenced', 'slow']).optional() }),
  message('jogSpeed', { press, speed: z.number().min(-1e7).max(1e7) }),
  message('jogEnd', { press }),
  message('alive', {}),
  message('stop', {}),
  message('home', { version }),
  message('homeSeries', { version, starts: z.array(z.number()).max(49) }),
  message('pauseSeries', { isPaused: z.boolean() }),
  message('noteHome', { version }),
  message('endSeries', { version }),
  message('goToStart', { version }),
  message('testMove', { version }),
  message('recordController', { version }),
  message('endRecording', {}),
  message('makeMove', {
    version,
    order: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('step'), direction }),
      z.strictObject({ kind: z.literal('to') }),
      z.strictObject({ kind: z.literal('by') }),
      z.strictObject({ kind: z.literal('faster') }),
      z.strictObject({ kind: z.literal('response'), shape: z.enum(['step', 'ramp']), direction }),
      z.strictObject({ kind: z.literal('press'), direction }),
      z.strictObject({ kind: z.literal('wait'), direction }),
      z.strictObject({ kind: z.literal('sweep') }),
      z.strictObject({ kind: z.literal('trial'), isMeant: z.boolean() }),
    ]),
  }),
  message('putBackGains', { version }),
  /** rpm of the tool */
  message('runSpindle', { version, speed: z.number().min(0).max(200000), reverse: z.boolean() }),
  message('stopSpindle', {}),
  message('runTest', { version }),
  message('readDrive', {
    version,
    target: z
      .union([
        z.literal('as before'),
        z
          .strictObject({ label: z.string().max(120), values: z.record(z.string().max(120), z.int()) })
          .refine(({ values }) => Object.keys(values).length <= 5000),
      ])
      .optional(),
  }),
  message('takeSnapshot', { version, name: z.string().trim().min(1).max(80) }),
  message('writeDrive', { version }),
  message('restore', { isHostQuiet: z.boolean() }),
  message('findDevices', { order: searchOrderSchema }),
  message('endSearch', {}),
  message('readBench', {}),
  message('setBench', { id: z.string().max(40), isOn: z.boolean() }),
  /** In the unit of the control */
  message('setHost', { id: z.string().max(40), value: z.number().min(-1e6).max(1e6) }),
  message('forceInput', { version, key: z.string().max(120), to: z.enum(['active', 'not active', 'free']) }),
  message('endForcing', {}),
  message('sensorWalk', { version }),
  message('beginStep', { version, step: stepId, isByHand: z.boolean(), given }),
  message('answerStep', { step: stepId, answer: z.union([z.string().max(60), z.number().min(-1e9).max(1e9)]), given }),
  message('skipStep', { version, step: stepId, because: z.string().trim().min(1).max(200) }),
  message('endStep', {}),
  message('walkOn', { what: z.enum(['nothing', 'skip', 'end']), because: z.string().max(200) }),
]);
export type ClientMessage = z.infer<typeof clientMessageSchema>;
/** What is for the bench alone. */
export type BenchMessage = Extract<ClientMessage, { type: 'readBench' | 'setBench' | 'setHost' }>;
export type SearchMessage = Extract<ClientMessage, { type: 'findDevices' | 'endSearch' }>;
/** Everything but `watch`, searches and what is for the bench is for the session of what is watched. */
type _EveryMessageIsKnown =
  Exclude<ClientMessage, { type: 'watch' } | BenchMessage | SearchMessage> extends SessionMessage ? true : never;
export const everyMessageIsKnown: _EveryMessageIsKnown = true;

/** A step of a procedure as it stands, with its words for this axis. */
export interface ShownStep {
  readonly id: string;
  readonly phase: StepPhase;
  readonly title: string;
  readonly task: string;
  readonly question: Question;
  /** The device is watched, or made to do something. */
  readonly isLinked: boolean;
  readonly isDrill: boolean;
  /** … with the motor off. */
  readonly isPassive: boolean;
  /** Buttons of a watch that has to be told that something was done, by the answer that each gives. */
  readonly done: Readonly<Record<string, string>>;
  /** Titles of the steps that have to come first. */
  readonly first: readonly string[];
  /** Numbers that the user enters for it. */
  readonly asks: readonly AskedNumber[];
  /** % of rated torque that its motion is limited to, and the next to try when it did not move. */
  readonly torque?: { readonly percent: number; readonly next?: number };
  readonly result?: StepResult & { readonly madeAt: string; readonly revision: number; readonly staleBecause?: string };
}

/** The guided steps of a member, what is under way, and what has been found. */
export interface GuideState {
  readonly memberId: string;
  /** Why there are none. */
  readonly because?: string;
  readonly steps: readonly ShownStep[];
  readonly run?: {
    readonly step: string;
    readonly isByHand: boolean;
    readonly phase: 'watching' | 'drilling' | 'ready' | 'settling' | 'asking' | 'over';
    /** The jog that it asks for; axis units/s */
    readonly jog?: { readonly speed: number; readonly directions: readonly (1 | -1)[] };
    readonly isHere: boolean;
    readonly because: string;
  };
  /** What may be wrong; the causes of one fault cannot be told apart. */
  readonly faults: readonly {
    readonly causes: readonly {
      readonly id: string;
      readonly title: string;
      readonly remedy: string;
      /** Titles of the steps that point at it. */
      readonly because: readonly string[];
    }[];
    readonly others: readonly string[];
  }[];
}

export type ServerMessage =
  | { readonly type: 'live'; readonly live: LiveState | SpindleLive }
  | { readonly type: 'guide'; readonly guide: GuideState }
  | { readonly type: 'driveData'; readonly driveData: DriveData }
  | { readonly type: 'runSaved'; readonly run: RunSummary }
  | {
      readonly type: 'axisSaved';
      readonly memberId: string;
      readonly version: number;
      readonly author: string;
      readonly summary: string;
    }
  /** Something measured or proven has been kept. */
  | { readonly type: 'evidenceKept'; readonly memberId: string }
  /** A snapshot of the drive has been kept. */
  | { readonly type: 'snapshotKept'; readonly memberId: string; readonly name: string }
  /** How the bench stands that answers at the address of the drive; absent: none does. */
  | { readonly type: 'bench'; readonly bench?: BenchState }
  | { readonly type: 'found'; readonly found: FoundDevices }
  /** Machines or library have changed somewhere: what lists them is out of date. */
  | { readonly type: 'listsChanged' }
  | { readonly type: 'refused'; readonly because: string };
