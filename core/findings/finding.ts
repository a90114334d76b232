import type { AxisInput, AxisValues, Station } from '../chain/index.ts';
import type { Evaluation } from '../sheet/index.ts';

export type Severity = 'stop' | 'warn' | 'note';

/** One thing that is wrong or worth knowing. */
export interface Finding {
  readonly id: string;
  readonly severity: Severity;
  /** The station of the chain it belongs to. */
  readonly station: Station['kind'];
  /** The document field to look at, as a JSON pointer. */
  readonly path: string;
  /** What is the matter, with its numbers. */
  readonly message: string;
  readonly remedy: string;
}

/** What a check looks at. */
export interface CheckedAxis {
  readonly input: AxisInput;
  readonly results: Evaluation<AxisValues>;
  readonly stations: readonly Station[];
  /** Words for a value; the template says how the unit of the axis or of its motor enters: `{u}`, `{u}/s`, `{torque}`. */
  readonly quantity: (value: number, template: string) => string;
}

/** One check: small, pure, silent where the numbers it needs are unknown. */
export type Check = (axis: CheckedAxis) => readonly Finding[];

/** The finding where something is so; else none. */
export const when = (isSo: boolean, finding: Finding): readonly Finding[] => (isSo ? [finding] : []);
