import type { DriveProfile, PlannedValues } from '../../drive/index.ts';
import type { SpindleEvent } from '../../plant/index.ts';
import type { AxisGuide, SpindleGuide } from '../guided/index.ts';
import type { MovesPlan } from './movesPlan.ts';
import type { TrialPlan } from './tunedRoles.ts';
import type { DeviceAddress } from './deviceAddress.ts';

/** A there-and-back move between two positions; axis units and s. */
export interface TestMovePlan {
  readonly from: number;
  readonly distance: number;
  readonly speed: number;
  readonly acceleration: number;
  readonly jerk: number | null;
  readonly dwell: number;
  readonly repeats: number;
}

/** What may be moved of an axis, in axis units and s. */
export interface AxisMotionPlan {
  readonly kind: 'axis';
  readonly unit: string;
  /** Signed by the mechanics: counts that go up may move the load to minus. */
  readonly unitsPerCount: number;
  readonly incrementsPerUnit: number;
  readonly sign: 1 | -1;
  /** counts/s below which the axis stands */
  readonly standstill: number;
  /** null where no speed is planned; `limit` and what sets it bound every jog. */
  readonly jogSpeed: number | null;
  readonly jogLimit: number;
  readonly jogLimitedBy: string;
  readonly jogAcceleration: number;
  /** axis units/s, and what sets it */
  readonly highestSpeed: number;
  readonly highestBy: string;
  /** % of rated torque that the acceleration of the test move takes at most; null: not known */
  readonly testMoveTorque: number | null;
  /** axis units/s² for 1 % of rated torque; null: inertia or torque are not known */
  readonly accelerationPerPercent: number | null;
  readonly moves: MovesPlan;
  readonly trial: TrialPlan;
  readonly quickStopDeceleration: number;
  readonly homingBy: 'drive' | 'controller';
  /** s after which a homing has gone wrong; undefined where none can be predicted. */
  readonly homingTimeOut: number | undefined;
  /** Of the plan that a measured homing depends on. */
  readonly homingDigest: string;
  /** Gravity moves it when the motor lets go. */
  readonly isSuspended: boolean;
  readonly softLimits: { readonly minus: number | null; readonly plus: number | null };
  readonly testMove: TestMovePlan | { readonly because: string };
  /** What guided steps work by. */
  readonly guide: AxisGuide;
}

/** What may be run of a spindle. */
export interface SpindleMotionPlan {
  readonly kind: 'spindle';
  readonly hertzPerToolRpm: number;
  /** motor turns for one of the tool */
  readonly ratio: number;
  readonly highestToolSpeed: number;
  readonly highestBy: readonly string[];
  /** s from the highest speed to rest along the planned ramp */
  readonly rampDown: number;
  readonly runTest:
    { readonly events: readonly SpindleEvent[]; readonly duration: number } | { readonly because: string };
  readonly guide: SpindleGuide;
}

export interface NoMotionPlan {
  readonly kind: 'unknown';
  readonly because: string;
}

/** A value of the plates that a drive may report itself. */
export interface PlateValue {
  readonly register: 'encoderIncrements' | 'motorRatedTorque' | 'motorPeakTorque';
  readonly label: string;
  readonly unit: string;
  readonly value: number;
  /** Share by which the two may differ. */
  readonly tolerance: number;
}

/** All that a session works by, worked out once for each saved version of an axis or spindle. */
export interface MemberPlan {
  readonly memberId: string;
  readonly memberKind: 'axis' | 'spindle';
  readonly version: number;
  readonly address: DeviceAddress;
  /** Which register map, and its contents' digest; undefined while none is chosen. */
  readonly profileMark: string | undefined;
  readonly profile: DriveProfile | undefined;
  /** By parameter key, in the parameter's unit. */
  readonly planned: PlannedValues;
  /** What the plates say of the motor, by the register in which a drive may report it. */
  readonly plates: readonly PlateValue[];
  readonly motion: AxisMotionPlan | SpindleMotionPlan | NoMotionPlan;
  /** Why nothing is written and nothing moved: a field holds what cannot be taken; undefined: none does. */
  readonly waitsFor: string | undefined;
}
