import type { DriveProfile, DriveReading, DriveSnapshot, RawValues } from '../../drive/index.ts';
import type { Evidence } from '../../evidence/index.ts';
import type { Drill, Look } from '../guided/index.ts';
import type { SensorWalk } from '../sensorWalk.ts';
import type { WriteAndVerifyState } from '../writeAndVerify.ts';
import type { DeviceIdentity } from './deviceIdentity.ts';
import type { DeviceAddress } from './deviceAddress.ts';
import type { MemberPlan } from './memberPlan.ts';
import type { RunKind } from './runKind.ts';
import type { Step } from './step.ts';
import type { TemporarySetting } from './temporarySetting.ts';
import type { SessionMessage } from './sessionMessages.ts';
import type { SessionTiming } from './sessionTiming.ts';

/** Leave to act on the drives of a member: for one press, one run or one procedure of one window, by one plan. */
export interface Permit {
  readonly id: number;
  readonly window: string;
  /** The press it was given for; 0 where there is none. */
  readonly press: number;
  readonly version: number;
}

export type SessionActivity =
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
  | 'stopping';

/** What one look at a drive gives, raw; registers that its map lacks are absent. */
export interface DriveStatus {
  readonly values: Readonly<Record<string, number>>;
  /** Steady clock, ms: what a status proves is how things stood after the request for it had left. */
  readonly requestedAt: number;
}

/** How an activity ended. */
export type End =
  | { readonly kind: 'finished' }
  | { readonly kind: 'stopped'; readonly because: string }
  | { readonly kind: 'link lost'; readonly because: string }
  | { readonly kind: 'fault'; readonly because: string }
  | { readonly kind: 'timeout'; readonly because: string }
  | { readonly kind: 'refused'; readonly because: string };

/** An activity under way: its steps, and what the present one waits for. */
export interface RunningScript {
  readonly activity: SessionActivity;
  readonly window: string;
  readonly permit: number;
  readonly steps: readonly Step[];
  readonly at: number;
  /** When the present step began. */
  readonly since: number;
  /** The request or the call to the database whose answer it waits for. */
  readonly waitsFor: number | undefined;
  /** Tries of the present step. */
  readonly tries: number;
  /** Whether a word that can move something has been sent. */
  readonly hasMoved: boolean;
  /** What a written temporary setting was. */
  readonly original?: number;
  readonly played: number;
  /** The largest following error in counts, and torque in %, since they are watched. */
  readonly peaks?: { readonly error: number; readonly torque: number };
}

/** A stop that has been ordered and has not been seen to work. */
export interface Stop {
  readonly how: 'zero speed' | 'ramp' | 'quick stop' | 'disable';
  readonly sentAt: number | undefined;
  readonly answeredAt: number | undefined;
  /** Tries that were refused, lost or ignored. */
  readonly unheeded: number;
  /** By then a gentle stop must be seen to stand, else a quick stop follows. */
  readonly deadline: number | undefined;
  /** Nothing is sent until then, so that the drive's watchdog runs out. */
  readonly silentUntil: number | undefined;
}

/** A step of a procedure under way, or just over. */
export interface GuidedRun {
  readonly step: string;
  readonly window: string;
  readonly isByHand: boolean;
  /** `drilling`: the drive is made to do something; `ready`: it is enabled and waits to be jogged; `settling`: the motor goes off. */
  readonly phase: 'watching' | 'drilling' | 'ready' | 'settling' | 'asking' | 'over';
  readonly drill: Drill | undefined;
  readonly given: Readonly<Record<string, number>>;
  readonly startedAt: number;
  readonly looks: readonly Look[];
  readonly answer: string | number | undefined;
  readonly answeredAt: number | undefined;
  readonly drillEnd: { readonly kind: string; readonly because: string; readonly at: number } | undefined;
  /** Why it is over without a result. */
  readonly because: string;
}

export interface Recording {
  readonly kind: RunKind;
  readonly periodSteps: number;
  readonly version: number;
  readonly startedAt: number;
  readonly taken: number;
  /** Samples that the drive had overwritten before they were fetched. */
  readonly missing: number;
  readonly trigger: number | undefined;
  /** Set when the run is over and the rest is being fetched. */
  readonly ending: { readonly end: End; readonly by: number } | undefined;
}

/** What a request in flight is for. */
export type Purpose =
  | 'poll'
  | 'shown'
  | 'beat'
  | 'script'
  | 'stop'
  | 'trace'
  | 'end of trace'
  | 'greeting'
  | 'procedure'
  | 'lock'
  | 'snapshot';

/** A homing series under way, or the last one. */
export interface HomingSeries {
  /** Homings that were planned. */
  readonly of: number;
  /** Where home came to, in counts of the encoder; 32 bits, going on beyond them. */
  readonly zeros: readonly number[];
  readonly startedAt: number;
  /** Who homes; `over`: a series by the controller that has been kept. */
  readonly by: 'drive' | 'controller' | 'over';
  /** It waits at home until it may go on. */
  readonly isPaused: boolean;
}

export interface SessionState {
  /** Of the present connection. */
  readonly homingSeries?: HomingSeries | undefined;
  /** As it is over the line in use. */
  readonly timing: SessionTiming;
  readonly givenTiming: SessionTiming;
  readonly plan: MemberPlan | undefined;
  /** Why there is no plan. */
  readonly planMissing: string;
  readonly link: 'off' | 'connecting' | 'greeting' | 'up' | 'lost';
  readonly linkMessage: string;
  /** The device and register map in use; fixed while connected. */
  readonly address: DeviceAddress | undefined;
  readonly profile: DriveProfile | undefined;
  readonly profileMark: string | undefined;
  /** Counts connections, so that events of an earlier one can be recognised. */
  readonly attempt: number;
  readonly retryAt: number | undefined;
  /** A disconnect that waits until the axis is seen to stand, and by when it is done anyway. */
  readonly closingBy: number | undefined;
  readonly identity: DeviceIdentity | undefined;
  readonly isConfirmed: boolean;
  /** Whether the motor of this device was switched on from here. */
  readonly isOurs: boolean;
  readonly holder: { readonly window: string; readonly aliveAt: number } | undefined;
  readonly watchers: readonly string[];
  readonly unwatchedSince: number | undefined;
  readonly permits: { readonly enable: Permit | undefined; readonly act: Permit | undefined };
  /** Whether heartbeats may go out. */
  readonly beats: boolean;
  readonly script: RunningScript | undefined;
  readonly progress: string;
  readonly stop: Stop | undefined;
  /** A stop that only a new enable ends. */
  readonly isLatched: boolean;
  /** A press that came before the last one had ended. */
  readonly waitingPress:
    { readonly window: string; readonly message: Extract<SessionMessage, { type: 'jog' }> } | undefined;
  /** The highest press of each window that has ended. */
  readonly ended: Readonly<Record<string, number>>;
  readonly status: DriveStatus | undefined;
  /** The last look at what is only shown. */
  readonly shown: DriveStatus | undefined;
  readonly inFlight: Readonly<Record<number, { readonly purpose: Purpose; readonly sentAt: number }>>;
  readonly polledAt: number;
  readonly shownAt: number;
  readonly beatenAt: number;
  readonly isReverse: boolean;
  readonly watchdog: number | undefined;
  readonly unchecked: readonly string[];
  readonly recording: Recording | undefined;
  readonly reading: DriveReading | undefined;
  /** Wall clock, ms; of the reading. */
  readonly readAt: number | undefined;
  /** What the drive reports of its motor, raw. */
  readonly reported: Readonly<Record<string, number>>;
  /** What this device has kept through a restart, with nothing else seen in its place since. */
  readonly survived: RawValues;
  /** The last proof of this device. */
  readonly proof: Evidence<'drive values'> | undefined;
  readonly procedure: WriteAndVerifyState | undefined;
  /** A snapshot that is being read, then kept: by its name; the window that asked for it, none where the procedure did. */
  readonly snapshot:
    { readonly name: string; readonly window: string | undefined; readonly call: number | undefined } | undefined;
  /** A walk along the sensors, and the window that asked for it. */
  readonly walk: { readonly window: string; readonly walk: SensorWalk } | undefined;
  /** A step of a procedure that is under way. */
  readonly guided: GuidedRun | undefined;
  /** How steps have come out, the newest of each. */
  readonly stepEvidence: readonly Evidence<'guided step'>[];
  /** How the last activity ended, and when. */
  readonly lastEnd: { readonly end: End; readonly at: number } | undefined;
  /** Since when an enabled axis has moved without anything under way. */
  readonly restlessSince: number | undefined;
  /** When the last order that is measured went out. */
  readonly markedAt: number | undefined;
  /** Temporary settings are put back by themselves no earlier than this. */
  readonly restoreAt: number;
  /** A restart under way: nothing is expected of the drive until then. */
  readonly restart: { readonly since: number; readonly by: number } | undefined;
  readonly temporary: readonly TemporarySetting[];
  /** The call that asks what is kept of the device just met. */
  readonly lookUp: number | undefined;
  readonly nextId: number;
  readonly clock: { readonly now: number; readonly wall: number } | undefined;
}

export const newSession = (timing: SessionTiming): SessionState => ({
  timing,
  givenTiming: timing,
  plan: undefined,
  planMissing: 'The axis or spindle has not been read yet.',
  link: 'off',
  linkMessage: '',
  address: undefined,
  profile: undefined,
  profileMark: undefined,
  attempt: 0,
  retryAt: undefined,
  closingBy: undefined,
  identity: undefined,
  isConfirmed: false,
  isOurs: false,
  holder: undefined,
  watchers: [],
  unwatchedSince: undefined,
  permits: { enable: undefined, act: undefined },
  beats: false,
  script: undefined,
  progress: '',
  stop: undefined,
  isLatched: false,
  waitingPress: undefined,
  ended: {},
  status: undefined,
  shown: undefined,
  inFlight: {},
  polledAt: -Infinity,
  shownAt: -Infinity,
  beatenAt: -Infinity,
  isReverse: false,
  watchdog: undefined,
  unchecked: [],
  recording: undefined,
  reading: undefined,
  readAt: undefined,
  reported: {},
  survived: {},
  proof: undefined,
  procedure: undefined,
  snapshot: undefined,
  walk: undefined,
  guided: undefined,
  stepEvidence: [],
  lastEnd: undefined,
  restlessSince: undefined,
  markedAt: undefined,
  restoreAt: -Infinity,
  restart: undefined,
  temporary: [],
  lookUp: undefined,
  nextId: 1,
  clock: undefined,
});

/** Something asked of the device. */
export type DeviceRequest =
  | { readonly kind: 'read'; readonly registers: readonly string[] }
  /** The running copies. */
  | { readonly kind: 'read parameters'; readonly keys: readonly string[] }
  /** Every parameter in all its copies. */
  | { readonly kind: 'read all' }
  | { readonly kind: 'read trace'; readonly from: number; readonly count: number }
  | { readonly kind: 'write'; readonly register: string; readonly raw: number }
  | { readonly kind: 'write parameter'; readonly key: string; readonly raw: number };

export type DeviceAnswer =
  | { readonly kind: 'values'; readonly values: Readonly<Record<string, number>> }
  | { readonly kind: 'reading'; readonly reading: DriveReading }
  | { readonly kind: 'done' };

export type SessionEvent =
  /** `deviceHeldBy`: another member that works with the same device. */
  | {
      readonly type: 'message';
      readonly window: string;
      readonly message: SessionMessage;
      readonly deviceHeldBy?: string | undefined;
    }
  | { readonly type: 'window came'; readonly window: string }
  | { readonly type: 'window gone'; readonly window: string }
  | {
      readonly type: 'saved';
      readonly plan: MemberPlan;
      readonly temporary: readonly TemporarySetting[];
      readonly steps?: readonly Evidence<'guided step'>[] | undefined;
    }
  | { readonly type: 'plan missing'; readonly because: string }
  | { readonly type: 'line up'; readonly attempt: number }
  | { readonly type: 'line lost'; readonly attempt: number; readonly because: string }
  /** `leftAt`: when the first bytes of the request went out. */
  | { readonly type: 'answered'; readonly id: number; readonly answer: DeviceAnswer; readonly leftAt: number }
  /** The device said no: a Modbus exception. */
  | { readonly type: 'refused'; readonly id: number; readonly exception: number }
  | { readonly type: 'timed out'; readonly id: number }
  /** It never left: its permit had gone, or the request could not be made. */
  | { readonly type: 'not sent'; readonly id: number; readonly because: string }
  /** `isHeldElsewhere`: another member works with the same device. */
  | {
      readonly type: 'kept';
      readonly id: number;
      readonly temporary: readonly TemporarySetting[];
      readonly isHeldElsewhere: boolean;
      /** The last proof of the device that was looked up. */
      readonly proof?: Evidence<'drive values'> | undefined;
    }
  | { readonly type: 'not kept'; readonly id: number; readonly because: string }
  | { readonly type: 'snapshot kept'; readonly id: number }
  | { readonly type: 'tick' };

/** Steady and wall clock, ms. */
export interface Moment {
  readonly now: number;
  readonly wall: number;
}

export type SessionCommand =
  | { readonly type: 'connect'; readonly attempt: number; readonly address: DeviceAddress }
  | { readonly type: 'close' }
  | {
      readonly type: 'send';
      readonly id: number;
      readonly request: DeviceRequest;
      /** The permit it needs at the moment its bytes leave; undefined: reads and stops need none. */
      readonly permit: number | undefined;
      readonly priority: 'stop' | 'beat' | 'normal';
      /** An unanswered one leaves the drive in doubt: the connection is reset. */
      readonly isMotion: boolean;
    }
  | { readonly type: 'remember'; readonly id: number; readonly setting: Omit<TemporarySetting, 'since'> }
  | { readonly type: 'forget'; readonly id: number; readonly setting: TemporarySetting }
  /** What is kept of the device that has just been met. */
  | { readonly type: 'look up'; readonly id: number; readonly identity: string; readonly address: string }
  | { readonly type: 'record'; readonly periodSteps: number }
  /** So many samples of the recording are missing here. */
  | { readonly type: 'skip samples'; readonly count: number }
  | { readonly type: 'keep run'; readonly recording: Recording; readonly end: End; readonly endedAt: number }
  | { readonly type: 'keep proof'; readonly proof: Evidence }
  | {
      readonly type: 'keep snapshot';
      readonly id: number;
      readonly snapshot: DriveSnapshot;
      readonly isAutomatic: boolean;
    }
  | { readonly type: 'tell'; readonly window: string; readonly because: string }
  | { readonly type: 'drive data changed' };
