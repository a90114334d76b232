/** A value that is there, or the reason why it is not. Nothing in a sheet is ever NaN, infinite or left over. */
export type Outcome<T> = Known<T> | Unknown;

export interface Known<T> {
  readonly state: 'known';
  readonly value: T;
}

export interface Unknown {
  readonly state: 'unknown';
  /** A clause that follows "unknown, because". */
  readonly because: string;
  /** The document field to mend, as a JSON pointer, where one field is the cause. */
  readonly path?: string;
}

export const known = <T>(value: T): Known<T> => ({ state: 'known', value });

export const unknown = (because: string, path?: string): Unknown =>
  path === undefined ? { state: 'unknown', because } : { state: 'unknown', because, path };

/** A finite number is known; anything else is unknown for the reason given. */
export const finite = (value: number, because: string): Outcome<number> =>
  Number.isFinite(value) ? known(value) : unknown(because);

export const valueOf = <T>(outcome: Outcome<T>): T | undefined =>
  outcome.state === 'known' ? outcome.value : undefined;

/** The first unknown of several outcomes, or all their values. */
export function all<T extends readonly unknown[]>(...outcomes: { [K in keyof T]: Outcome<T[K]> }): Outcome<T> {
  const values: unknown[] = [];
  for (const outcome of outcomes as readonly Outcome<unknown>[]) {
    if (outcome.state === 'unknown') return outcome;
    values.push(outcome.value);
  }
  return known(values as unknown as T);
}

export const map = <T, R>(outcome: Outcome<T>, then: (value: T) => R): Outcome<R> =>
  outcome.state === 'known' ? known(then(outcome.value)) : outcome;

/** The first unknown of several named outcomes, or all their values by their names. */
export function allOf<T extends object>(outcomes: { readonly [K in keyof T]: Outcome<T[K]> }): Outcome<T> {
  const values: Record<string, unknown> = {};
  for (const [name, outcome] of Object.entries(outcomes) as [string, Outcome<unknown>][]) {
    if (outcome.state === 'unknown') return outcome;
    values[name] = outcome.value;
  }
  return known(values as T);
}
