import type { AxisInput, AxisValues, Station } from '../chain/index.ts';
import type { Evaluation } from '../sheet/index.ts';

export type Severity = 'stop' | 'warn' | 'note';

/** The gravest first. */
export const rank: Readonly<Record<Severity, number>> = { stop: 0, warn: 1, note: 2 };

/** One thing that is wrong or worth knowing. */
export interface Finding<StationKind extends string = Station['kind']> {
  readonly id: string;
  readonly severity: Severity;
  /** The station of the chain it belongs to. */
  readonly station: StationKind;
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

/** All checks of some files. */
export const checksIn = (...modules: readonly Readonly<Record<string, Check>>[]): readonly Check[] =>
  modules.flatMap((checks) => Object.values(checks));

/** The finding where something is so; else none. */
export const when = <S extends string = Station['kind']>(isSo: boolean, finding: Finding<S>): readonly Finding<S>[] =>
  isSo ? [finding] : [];
