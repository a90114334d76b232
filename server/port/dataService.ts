import type { RunSummary } from '@kavrid/contract';
import type { MemberPlan, RunKind, TemporarySetting } from '@kavrid/core/procedure';
import type { DriveSnapshot } from '@kavrid/core/drive';
import type { Evidence } from '@kavrid/core/evidence';
import type { RunEnd } from '@kavrid/contract';

/** What is known of a member when it is opened or has been saved. */
export interface MemberNews {
  readonly plan: MemberPlan;
  /** Left changed by this member, at whatever device. */
  readonly temporary: readonly TemporarySetting[];
  /** How its guided steps have come out, the newest of each. */
  readonly steps: readonly Evidence<'guided step'>[];
}

/** A run as it was recorded: raw samples of eight channels, sample by sample. */
export interface RawRun {
  readonly memberId: string;
  readonly kind: RunKind;
  readonly end: RunEnd;
  readonly because: string;
  /** ISO */
  readonly startedAt: string;
  readonly seconds: number;
  readonly version: number;
  /** s */
  readonly period: number;
  /** Samples before the trigger. */
  readonly before: number;
  /** Bits, in the recorded inputs, of those that pick moves, the first input first; none: not known. */
  readonly choiceBits: readonly number[];
  /** Mark of the device that recorded it. */
  readonly identity: string;
}

/** What the port asks of the data process. Every call ends within seconds, or is rejected. */
export interface DataService {
  /** undefined: there is no such axis or spindle. */
  member(id: string): Promise<MemberNews | undefined>;
  settingsOf(identity: string, address: string): Promise<readonly TemporarySetting[]>;
  /** @returns all that is kept of that device */
  remember(memberId: string, setting: Omit<TemporarySetting, 'since'>): Promise<readonly TemporarySetting[]>;
  forget(setting: TemporarySetting): Promise<readonly TemporarySetting[]>;
  /** The newest proof of the drive values of that device. */
  proofOf(memberId: string, identity: string): Promise<Evidence<'drive values'> | undefined>;
  keepEvidence(memberId: string, evidence: Evidence): Promise<void>;
  keepSnapshot(memberId: string, snapshot: DriveSnapshot, isAutomatic: boolean): Promise<void>;
  keepRun(run: RawRun, samples: Int32Array): Promise<RunSummary>;
}

/** What the data process tells the port. */
export type DataEvent =
  | {
      readonly type: 'saved';
      readonly memberId: string;
      readonly version: number;
      readonly author: string;
      readonly summary: string;
    }
  /** A register map or a temporary setting has changed: open members are read again. */
  | { readonly type: 'plans changed' }
  | { readonly type: 'lists changed' };
