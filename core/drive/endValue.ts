import type { Exact } from '../quantity/index.ts';

/**
 * What keying a value does besides setting it; a key-in sheet is ordered by it. Switches come first, since the supply is off for
 * them. A factory reset sets everything back; what resets others is a value whose choice sets some of them, as of a motor or a mode.
 */
export const keyInSteps = [
  'switches',
  'unlocks',
  'factory reset',
  'resets others',
  'value',
  'stores',
  'restarts',
] as const;

export type KeyInStep = (typeof keyInSteps)[number];

/** The last line of a sheet compares what was keyed in. */
export type SheetStep = KeyInStep | 'checks';

/** A value as planned: a number in a unit, or a word that the setting's choices know. */
export type PlannedSetting =
  | { readonly kind: 'number'; readonly value: number; readonly unit: string }
  /**
   * Exact, and keyed with digits enough. `span` is the most of what it is a scale of (a travel in axis units): over it the rounding
   * is to stay below a tenth of one; without it, twelve digits.
   */
  | { readonly kind: 'exact'; readonly value: Exact; readonly unit: string; readonly span?: number }
  /** `raw` is its number over a link; without one, only the choices of a list give it. */
  | { readonly kind: 'word'; readonly word: string; readonly raw?: number }
  /** Positions of switches, which are set with the supply off. */
  | { readonly kind: 'switches'; readonly positions: string };

/** One value of an end's own list. */
export interface EndValue {
  readonly code: string;
  readonly label: string;
  readonly group: string;
  readonly unit: string;
  readonly takesEffect: 'at once' | 'after restart';
  readonly factory: string;
  /** What to key where no role says it: a lock code, a store or reset, the number of a motor; empty: nothing. */
  readonly keyValue: string;
  readonly minimum: string;
  readonly maximum: string;
  readonly role: string | null;
  readonly keyIn: KeyInStep;
  readonly scale: number | null;
  readonly half: 'whole' | 'high' | 'low';
  readonly halfBase: number | null;
  readonly firstBit: number | null;
  readonly bits: number | null;
  readonly choices: string;
  readonly shows: string;
  readonly note: string;
}

/** A line of a key-in sheet. */
export interface KeyInRow {
  readonly code: string;
  readonly label: string;
  readonly unit: string;
  readonly step: SheetStep;
  /** A line that is keyed once more, after a factory reset. */
  readonly isAgain?: boolean;
  /** What to key; undefined where the plan says nothing that can be keyed. */
  readonly key: string | undefined;
  /** Nothing plans it: the number to key is the user's. */
  readonly isGiven?: boolean;
  /** The planned value in words, where the number alone does not say it. */
  readonly meaning: string;
  readonly shows: string;
  readonly note: string;
  readonly because?: string;
}
