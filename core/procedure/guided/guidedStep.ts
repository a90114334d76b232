import type { DriveInput, DriveProfile } from '../../drive/index.ts';
import type { StopWay } from '../../motion/index.ts';
import type { SensorWalk } from '../sensorWalk.ts';
import type { AxisGuide } from './axisGuide.ts';
import type { SpindleGuide } from './spindleGuide.ts';
import type { Look } from './look.ts';

/** In the order in which they are done. */
export const stepPhases = [
  'Control supply only',
  'Before main power',
  'Main power',
  'First motion',
  'Hand back',
  'Stops',
  'Machine test',
  'Homing',
] as const;
export type StepPhase = (typeof stepPhases)[number];

/** How a step has come out. `undecided`: what was seen says nothing; it has to be repeated. */
export type Verdict = 'passed' | 'failed' | 'undecided' | 'skipped';

/** Where it is known from: read at the device, seen by the user, or neither. */
export type Known = 'read back' | 'observed' | 'neither';

export interface ShownValue {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
}

export interface StepResult {
  readonly verdict: Verdict;
  readonly known: Known;
  /** One of the signs of the step; '' where it was skipped or undecided. */
  readonly sign: string;
  readonly words: string;
  readonly values: readonly ShownValue[];
}
export type StepResults = Readonly<Partial<Record<string, StepResult>>>;

/** What a drive is made to do for a step; each ends with the motor off. */
export type Drill =
  /** Compares the drive with the plan; the motor stays off. */
  | { readonly kind: 'compare' }
  /** Enables, stands still, disables. */
  | { readonly kind: 'stand'; readonly seconds: number }
  /** Enables and gives no sign of life any more. */
  | { readonly kind: 'withhold' }
  /** Enables and moves a little way towards plus. */
  | { readonly kind: 'bump'; readonly distance: number; readonly torque: number }
  /** Enables; the window then holds a jog and lets it go. */
  | { readonly kind: 'jog'; readonly directions: readonly (1 | -1)[]; readonly speed: number }
  /** Jogs automatically for a moment with a following-error window that is too small for it. */
  | { readonly kind: 'alarm'; readonly speed: number; readonly window: number; readonly seconds: number }
  /** Turns a spindle at a speed of the tool, in rpm, then stops it on its ramp, or gives it no sign of life any more. */
  | { readonly kind: 'spin'; readonly speed: number; readonly seconds: number; readonly isWithheld: boolean }
  /** Enables and homes as planned. */
  | { readonly kind: 'home' }
  /** Reaches a speed and is stopped, by the drive or by a hand. */
  | { readonly kind: 'stop'; readonly way: StopWay; readonly speed: number };

/** A question to the person at the machine. */
export type Question =
  | { readonly kind: 'choice'; readonly text: string; readonly answers: Readonly<Record<string, string>> }
  | { readonly kind: 'number'; readonly text: string; readonly unit: string };

/** A number that the user enters for a step: before it begins, or with the answer. */
export interface AskedNumber {
  readonly key: 'commanded' | 'speed' | 'room';
  readonly when: 'begin' | 'answer';
  readonly isRequired: boolean;
}

/** What a step is about, at this drive. */
export interface BaseContext {
  readonly profile: DriveProfile | undefined;
  readonly inputs: readonly DriveInput[];
  /** The drive can be enabled and moved over its link, and stops automatically when the link fails. */
  readonly canCommand: boolean;
  /** s; undefined: not known */
  readonly watchdog: number | undefined;
  readonly results: StepResults;
  /** Numbers that the user has given for the step, by name. */
  readonly given: Readonly<Record<string, number>>;
}

/** … of an axis. */
export interface StepContext extends BaseContext {
  readonly kind: 'axis';
  readonly guide: AxisGuide;
  /** Signed; axis units. */
  readonly unitsPerCount: number;
  /** The drive says that it is homed. */
  readonly isHomed: boolean;
}

/** … of a spindle. */
export interface SpindleStepContext extends BaseContext {
  readonly kind: 'spindle';
  readonly guide: SpindleGuide;
}
export type AnyStepContext = StepContext | SpindleStepContext;

/** Observations and answers of a step so far. */
export interface StepRecord {
  readonly looks: readonly Look[];
  /** ms since it began */
  readonly elapsed: number;
  /** What the user has answered; absent: nothing yet. */
  readonly answer?: string | number;
  /** ms since the answer */
  readonly sinceAnswer?: number;
  /** ms, steady clock: when the drill gave the order that it is about. */
  readonly orderAt?: number;
  /** The walk along the sensors that belongs to it. */
  readonly walk?: SensorWalk;
  /** How its drill ended, in words; absent: it has none, or is under way. */
  readonly drillEnd?: { readonly kind: string; readonly because: string };
}

export type Judgement =
  | { readonly kind: 'wait' }
  | { readonly kind: 'ask' }
  | { readonly kind: 'judged'; readonly result: Omit<StepResult, 'known'> };

/** One step of a procedure, as data with its judgement. */
export interface GuidedStep<C extends BaseContext = StepContext> {
  readonly phase: StepPhase;
  readonly title: string;
  /** Steps that must have passed, or have been skipped with a reason. */
  readonly needs: readonly string[];
  readonly applies: (context: C) => boolean;
  /** What to do, as sentences. */
  readonly task: (context: C) => string;
  /** What the user is asked: without a link instead of looking, with one where only a person can see it. */
  readonly question: (context: C) => Question;
  /** Signs of the step that mean it has passed. */
  readonly passes: readonly string[];
  /** With a link; absent: the question alone. */
  readonly linked?: {
    /** What the drive is made to do; undefined: it is only watched. A text says why it cannot be done. */
    readonly drill?: (context: C) => Drill | string;
    /** Buttons by which the user reports what the drive cannot show, by answer. */
    readonly done?: Readonly<Record<string, string>>;
    readonly judge: (record: StepRecord, context: C) => Judgement;
  };
  /** It goes on when the link is lost and comes back. */
  readonly outlivesLink?: true;
  /** ms for which it holds; absent: until something that it depends on changes. */
  readonly holdsFor?: number;
  /** Numbers that the user enters for it. */
  readonly asks?: (isLinked: boolean) => readonly AskedNumber[];
  /** What a typed number means; choices are signs themselves. */
  readonly signOf?: (answer: number, context: C) => Omit<StepResult, 'known'>;
}

export const wait: Judgement = { kind: 'wait' };
export const ask: Judgement = { kind: 'ask' };
export const judged = (
  verdict: Verdict,
  sign: string,
  words: string,
  values: readonly ShownValue[] = [],
): Judgement => ({ kind: 'judged', result: { verdict, sign, words, values } });

/** Whether a step is behind: it has passed, or was left out with a reason. */
export const isBehind = (result: StepResult | undefined): boolean =>
  result?.verdict === 'passed' || result?.verdict === 'skipped';
