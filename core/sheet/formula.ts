import type { Outcome } from './outcome.ts';

/**
 * One formula of a sheet, as data. `V` names every value of the sheet by its symbol.
 * `compute` sees only known inputs, and answers with a value or with the reason why there is none.
 */
export interface Formula<V> {
  readonly symbol: keyof V & string;
  readonly label: string;
  /** As written in a textbook, with the symbols of its inputs: `Q · D / N`. */
  readonly expression: string;
  /** `{u}` stands for the unit of the axis, `{t}` for its turn or travel. */
  readonly unit: string;
  readonly source: string;
  readonly inputs: readonly (keyof V & string)[];
  readonly compute: (values: V) => Outcome<V[keyof V]>;
}

interface TypedFormula<V, K extends keyof V & string, I extends keyof V & string> {
  readonly symbol: K;
  readonly label: string;
  readonly expression: string;
  readonly unit: string;
  readonly source: string;
  readonly inputs: readonly I[];
  readonly compute: (values: { readonly [Name in I]: V[Name] }) => Outcome<V[K]>;
}

/** Checks a formula's inputs and result against the sheet's values, then forgets the particulars. */
export const formulaOf =
  <V>() =>
  <K extends keyof V & string, I extends keyof V & string>(formula: TypedFormula<V, K, I>): Formula<V> =>
    formula;
