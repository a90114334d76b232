import type { Evaluation } from '../../sheet/index.ts';
import type { SpindleInput, SpindleStationKind, SpindleValues } from '../../spindle/index.ts';
import { formatNumber } from '../../quantity/index.ts';
import type { Finding } from '../finding.ts';

export type SpindleFinding = Finding<SpindleStationKind>;

/** What a check of a spindle looks at. */
export interface CheckedSpindle {
  readonly input: SpindleInput;
  readonly results: Evaluation<SpindleValues>;
}

/** One check of a spindle: small, pure, silent where the numbers it needs are unknown. */
export type SpindleCheck = (spindle: CheckedSpindle) => readonly SpindleFinding[];

/** A number for a sentence. */
export const n = (value: number, digits = 4): string => formatNumber(value, digits);
