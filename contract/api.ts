import './withoutCodeGeneration.ts';
import type { DeviceState, DriveProfile, DriveReading, ParameterComparison } from '@kavrid/core/drive';
import type { WriteAndVerifyState } from '@kavrid/core/procedure';
import { z } from 'zod';
import { axisSchema, machineSchema, type AxisDocument, type MachineDocument } from './documents.ts';

/** Problem details of RFC 9457; `errors` names the fields. */
export interface Problem {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail?: string;
  readonly errors?: readonly { readonly pointer: string; readonly detail: string }[];
}

export interface MachineSummary {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly updatedAt: string;
  readonly axes: readonly { readonly id: string; readonly name: string }[];
}

export interface MachineRecord {
  readonly id: string;
  readonly version: number;
  readonly updatedAt: string;
  readonly document: MachineDocument;
  readonly axes: readonly AxisRecord[];
}

export interface AxisRecord {
  readonly id: string;
  readonly machineId: string;
  readonly version: number;
  readonly updatedAt: string;
  readonly document: AxisDocument;
}

export interface ProfileRecord {
  readonly id: string;
  readonly profile: DriveProfile;
}

/** A save carries the version it was made from; an older one gets 409. */
const version = z.int().min(1);
export const saveMachineSchema = z.strictObject({ version, document: machineSchema });
export const createMachineSchema = z.strictObject({ document: machineSchema });
export const saveAxisSchema = z.strictObject({ version, document: axisSchema });
export const createAxisSchema = z.strictObject({ document: axisSchema });

/** One move, as recorded: channels of equal length, positions in axis units, torque in % of rated. */
export interface Trace {
  /** s; sample k is at (k − triggerIndex) · period */
  readonly period: number;
  readonly channels: Readonly<Record<TraceChannel, readonly number[]>>;
}
export const traceChannels = [
  'demandPosition',
  'actualPosition',
  'demandSpeed',
  'actualSpeed',
  'followingError',
  'torque',
  'inputs',
  'statusword',
] as const;
export type TraceChannel = (typeof traceChannels)[number];

export type RunKind = 'homing' | 'test move';
export type RunEnd = 'finished' | 'stopped' | 'link lost' | 'fault';
export interface RunSummary {
  readonly id: string;
  readonly axisId: string;
  readonly kind: RunKind;
  readonly end: RunEnd;
  readonly because?: string;
  readonly startedAt: string;
  readonly seconds: number;
  /** Version of the axis it was made with, and what its moves were. */
  readonly axisVersion: number;
}
export interface RunRecord extends RunSummary {
  readonly axis: AxisDocument;
  readonly trace: Trace;
}

/** A drive value changed for a test, until it is restored. */
export interface TemporarySetting {
  readonly key: string;
  readonly label: string;
  readonly original: number;
  readonly temporary: number;
  readonly since: string;
}

export type Activity = 'idle' | 'jogging' | 'homing' | 'test move' | 'writing drive data' | 'restarting' | 'stopping';

/** What the screen knows of a drive, twenty times a second. */
export interface LiveState {
  readonly axisId: string;
  readonly link: 'off' | 'connecting' | 'up' | 'lost';
  readonly message: string;
  readonly deviceState: DeviceState | undefined;
  readonly activity: Activity;
  readonly position: number | undefined;
  readonly speed: number | undefined;
  readonly followingError: number | undefined;
  readonly torque: number | undefined;
  readonly minusLimit: boolean;
  readonly plusLimit: boolean;
  readonly homed: boolean;
  readonly fault: string | undefined;
  readonly progress: string;
  /** ms; undefined while it is not set, and then nothing may be jogged. */
  readonly watchdog: number | undefined;
  readonly temporary: readonly TemporarySetting[];
  /** Another window has taken this axis. */
  readonly heldElsewhere: boolean;
}

export interface DriveData {
  readonly reading: DriveReading | undefined;
  readonly readAt: string | undefined;
  readonly comparisons: readonly ParameterComparison[];
  readonly procedure: Pick<WriteAndVerifyState, 'phase' | 'log' | 'because'>;
}

const speed = z.number().positive().max(1e7);
export const clientMessageSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('watch'), axisId: z.string().max(40) }),
  z.strictObject({ type: z.literal('connect') }),
  z.strictObject({ type: z.literal('disconnect') }),
  z.strictObject({ type: z.literal('enable') }),
  z.strictObject({ type: z.literal('disable') }),
  z.strictObject({ type: z.literal('resetFault') }),
  z.strictObject({ type: z.literal('jog'), direction: z.union([z.literal(1), z.literal(-1)]), speed }),
  z.strictObject({ type: z.literal('jogEnd') }),
  z.strictObject({ type: z.literal('alive') }),
  z.strictObject({ type: z.literal('stop') }),
  z.strictObject({ type: z.literal('home') }),
  z.strictObject({ type: z.literal('testMove') }),
  z.strictObject({ type: z.literal('readDrive') }),
  z.strictObject({ type: z.literal('writeDrive') }),
  z.strictObject({ type: z.literal('restore') }),
]);
export type ClientMessage = z.infer<typeof clientMessageSchema>;

export type ServerMessage =
  | { readonly type: 'live'; readonly live: LiveState }
  | { readonly type: 'driveData'; readonly driveData: DriveData }
  | { readonly type: 'runSaved'; readonly run: RunSummary }
  | { readonly type: 'axisSaved'; readonly axisId: string; readonly version: number }
  | { readonly type: 'refused'; readonly because: string };
