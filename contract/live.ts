import './withoutCodeGeneration.ts';
import type { DeviceState, DriveReading, ParameterComparison } from '@kavrid/core/drive';
import type { WriteAndVerifyState } from '@kavrid/core/procedure';
import { z } from 'zod';
import type { RunKind, RunSummary } from './records.ts';

// What travels over the live line between a window and the server.

/** A drive value changed for a test, until it is restored. */
export interface TemporarySetting {
  readonly key: string;
  readonly label: string;
  readonly original: number;
  readonly temporary: number;
  readonly since: string;
}

export type Activity = 'idle' | 'jogging' | RunKind | 'writing drive data' | 'restarting' | 'stopping';

/** What the screen knows of any drive, twenty times a second. */
export interface LinkLive {
  readonly axisId: string;
  readonly link: 'off' | 'connecting' | 'up' | 'lost';
  readonly message: string;
  readonly deviceState: DeviceState | undefined;
  readonly activity: Activity;
  readonly fault: string | undefined;
  readonly progress: string;
  /** ms; undefined while it is not set, and then nothing may be jogged or run. */
  readonly watchdog: number | undefined;
  readonly temporary: readonly TemporarySetting[];
  /** Another window has taken this axis or spindle. */
  readonly heldElsewhere: boolean;
}

/** … of the drive of an axis. */
export interface LiveState extends LinkLive {
  readonly kind: 'axis';
  readonly position: number | undefined;
  readonly speed: number | undefined;
  readonly followingError: number | undefined;
  readonly torque: number | undefined;
  readonly minusLimit: boolean;
  readonly plusLimit: boolean;
  readonly homed: boolean;
}

/** … of the drive of a spindle. */
export interface SpindleLive extends LinkLive {
  readonly kind: 'spindle';
  /** Hz of the output, rpm of tool and motor, A, N·m of the motor, V of the DC bus */
  readonly hertz: number | undefined;
  readonly toolSpeed: number | undefined;
  readonly motorSpeed: number | undefined;
  readonly current: number | undefined;
  readonly torque: number | undefined;
  readonly busVolts: number | undefined;
  readonly atSpeed: boolean;
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
  /** rpm of the tool */
  z.strictObject({ type: z.literal('runSpindle'), speed: z.number().min(0).max(200000), reverse: z.boolean() }),
  z.strictObject({ type: z.literal('stopSpindle') }),
  z.strictObject({ type: z.literal('runTest') }),
  z.strictObject({ type: z.literal('readDrive') }),
  z.strictObject({ type: z.literal('writeDrive') }),
  z.strictObject({ type: z.literal('restore') }),
]);
export type ClientMessage = z.infer<typeof clientMessageSchema>;

export type ServerMessage =
  | { readonly type: 'live'; readonly live: LiveState | SpindleLive }
  | { readonly type: 'driveData'; readonly driveData: DriveData }
  | { readonly type: 'runSaved'; readonly run: RunSummary }
  | {
      readonly type: 'axisSaved';
      readonly axisId: string;
      readonly version: number;
      readonly author: string;
      readonly summary: string;
    }
  /** Machines or library have changed somewhere: what lists them is out of date. */
  | { readonly type: 'listsChanged' }
  | { readonly type: 'refused'; readonly because: string };
