import type { AcceptanceRow, AcceptanceVerdict } from './acceptance.ts';

/** Who homed in a series and what measured it: the drive and its encoder, the controller and the encoder, or a gauge. */
export type SeriesBy = 'drive' | 'controller' | 'gauge';

/** A target position and what was read there, approached towards plus and towards minus. */
export interface MeasuredTarget {
  readonly target: number;
  readonly plus: readonly number[];
  readonly minus: readonly number[];
}

/** What evidence can be of; each kind has its payload. */
export interface EvidencePayloads {
  /** Raw values by parameter key, as they ran after the restart or the store that proved them. */
  readonly 'drive values': { readonly values: Readonly<Record<string, number>> };
  /** What was seen of each sensor that was tripped by hand, by the key of its input. */
  readonly sensors: { readonly verdicts: Readonly<Record<string, string>> };
  /**
   * Where home came to, one homing after the other, in axis units from the first; `of`: as many were planned; absent `by`: the drive
   * homed, and its encoder measured.
   */
  readonly 'homing series': {
    readonly of: number;
    readonly homes: readonly number[];
    readonly end: string;
    readonly by?: SeriesBy;
  };
  /** Positions read at a gauge, in axis units, each target approached from both sides (ISO 230-2). */
  readonly positioning: { readonly targets: readonly MeasuredTarget[] };
  /** An axis judged by its limits; `runId`: the test move that was judged. */
  readonly acceptance: {
    readonly verdict: AcceptanceVerdict;
    readonly rows: readonly AcceptanceRow[];
    readonly runId?: string;
  };
  /** How a step of a procedure came out; `known`: read back from the device, observed by the user, or neither. */
  readonly 'guided step': {
    readonly step: string;
    readonly verdict: 'passed' | 'failed' | 'undecided' | 'skipped';
    readonly known: 'read back' | 'observed' | 'neither';
    readonly sign: string;
    readonly words: string;
    readonly values: readonly { readonly label: string; readonly value: number; readonly unit: string }[];
  };
}
export type EvidenceKind = keyof EvidencePayloads;

/** Something that was seen at a device, with all that it holds good for. */
export interface Evidence<K extends EvidenceKind = EvidenceKind> {
  readonly kind: K;
  /** ISO */
  readonly madeAt: string;
  /** Version of the axis or spindle. */
  readonly revision: number;
  /** Mark of the device's identity; '' where it tells none, or was not linked. */
  readonly identity: string;
  /** Of the settings it was made with; see {@link settingsDigest}. */
  readonly digest: string;
  readonly payload: EvidencePayloads[K];
}

/** How things stand now; what is undefined is not known and makes nothing stale. */
export interface EvidenceSurroundings {
  readonly identity: string | undefined;
  readonly digest: string | undefined;
}

/** Why evidence does not hold any more; undefined: it does. The one rule for every kind. */
export function staleBecause(evidence: Evidence, now: EvidenceSurroundings): string | undefined {
  // What a person has observed without a link belongs to no device.
  const isBound = evidence.identity !== '';
  if (isBound && now.identity !== undefined && now.identity !== evidence.identity)
    return 'it was made with another device';
  if (now.digest !== undefined && now.digest !== evidence.digest) return 'the plan has changed since';
  return undefined;
}

/** FNV-1a over 64 bits (Fowler, Noll, Vo; draft-eastlake-fnv): over code points: tells two sets of settings apart, and protects nothing. */
const offset = 0xcbf29ce484222325n;
const prime = 0x100000001b3n;

/** A short text that is the same for the same settings, whatever their order. */
export function settingsDigest(settings: Readonly<Record<string, number | string>>): string {
  const text = Object.entries(settings)
    .map(([key, value]) => `${key}=${value}`)
    .sort()
    .join('\n');
  let hash = offset;
  for (const letter of text) hash = BigInt.asUintN(64, (hash ^ BigInt(letter.codePointAt(0) ?? 0)) * prime);
  return hash.toString(16).padStart(16, '0');
}
