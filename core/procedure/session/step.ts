import type { SpindleEvent } from '../../plant/index.ts';
import type { TunedRole } from './tunedRoles.ts';
import type { CheckedRole } from './planChecks.ts';
import type { RunKind } from './runKind.ts';
import type { TemporarySetting } from './temporarySetting.ts';

/** What a step waits for in the drive's status. */
export type Condition =
  | { readonly is: 'mode'; readonly mode: number }
  | { readonly is: 'off' }
  /** Not enabled any more, whatever took it off. */
  | { readonly is: 'disabled' }
  /** At rest, with or without power. */
  | { readonly is: 'at rest' }
  /** At a speed, signed, in counts/s. */
  | { readonly is: 'at speed'; readonly countsPerSecond: number }
  /** Bits of the inputs that are forced. */
  | { readonly is: 'inputs forced'; readonly mask: number }
  /** Held by something: it stands and pushes with its torque limit, % of rated; not farther than so many counts from a position. */
  | { readonly is: 'held'; readonly torque: number; readonly fromCounts: number; readonly travelCounts: number }
  /** About to be where a stop on the ramp, counts/s², ends at a position, seen in the sense of its counts. */
  | { readonly is: 'at fence'; readonly counts: number; readonly sense: 1 | -1; readonly deceleration: number }
  | { readonly is: 'set-point acknowledged' }
  | { readonly is: 'target reached' }
  | { readonly is: 'homing ended' };

/** One step of an activity, as data; every kind of motion is a list of these. */
export type Step =
  | { readonly do: 'tell'; readonly progress: string }
  /** Reads these roles and refuses where the drive differs from the plan. */
  | { readonly do: 'check'; readonly roles: readonly CheckedRole[] }
  /** A word that can move something is `isMotion`. */
  | { readonly do: 'write'; readonly register: string; readonly raw: number; readonly isMotion?: boolean }
  | { readonly do: 'read back'; readonly register: string; readonly raw: number }
  /** Keeps the original first, then writes. */
  | {
      readonly do: 'set temporarily';
      readonly role: 'commandSource' | 'torqueLimit' | 'followingErrorWindow' | TunedRole;
      readonly raw: number;
    }
  /** Waits while a series is paused; the motor holds the axis. */
  | { readonly do: 'await go' }
  /** Where zero is in the counts of the encoder; the axis stands. */
  | { readonly do: 'note home' }
  /** From here on the largest following error and torque are noted, of every look at the drive. */
  | { readonly do: 'watch peaks' }
  /** Ends the series where they were above its limits; null: no limit. */
  | {
      readonly do: 'judge peaks';
      readonly at: string;
      readonly unit: string;
      readonly unitsPerCount: number;
      readonly followingError: number | null;
      readonly torque: number | null;
    }
  /** The order that is measured goes out now. */
  | { readonly do: 'mark' }
  /** No sign of life goes out from here on. */
  | { readonly do: 'withhold' }
  | { readonly do: 'remember motor' }
  /** Has what is to be changed kept first, where it is no parameter. */
  | {
      readonly do: 'remember';
      readonly key: string;
      readonly label: string;
      readonly original: number;
      readonly temporary: number;
    }
  | { readonly do: 'write parameter'; readonly key: string; readonly raw: number }
  | { readonly do: 'read back parameter'; readonly key: string; readonly raw: number }
  | { readonly do: 'forget'; readonly setting: TemporarySetting }
  /** Through the states of CiA 402 to operation enabled; `bits` are added to every word. */
  | { readonly do: 'enable'; readonly bits: number }
  | { readonly do: 'await'; readonly what: string; readonly until: Condition; readonly seconds: number }
  | { readonly do: 'dwell'; readonly seconds: number }
  /** Waits, whoever has the motor on; ended by a person, or after so many s. */
  | { readonly do: 'listen'; readonly seconds: number }
  | { readonly do: 'record'; readonly kind: RunKind; readonly periodSteps: number }
  /** Events at times of the drive's own clock, counted from its trigger. */
  | {
      readonly do: 'play';
      readonly events: readonly SpindleEvent[];
      readonly duration: number;
      readonly period: number;
    }
  /** Keeps going until it is ended: a jog, a running spindle. `isLever`: its speed may be changed while it runs. */
  | { readonly do: 'hold'; readonly isLever?: boolean };
