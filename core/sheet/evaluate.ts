import type { Formula } from './formula.ts';
import { unknown, type Outcome } from './outcome.ts';

/** Formulas in an order in which each follows its inputs. Built once by {@link sheetOf}. */
export interface SheetDefinition<V> {
  readonly formulas: readonly Formula<V>[];
  readonly bySymbol: ReadonlyMap<string, Formula<V>>;
}

/** Everything an axis knows: each symbol's value or the reason why it has none. */
export type Evaluation<V> = { readonly [K in keyof V]: Outcome<V[K]> };

/** @throws Error when two formulas share a symbol or formulas need each other in a ring: a mistake in our own code. */
export function sheetOf<V>(formulas: readonly Formula<V>[]): SheetDefinition<V> {
  const bySymbol = new Map<string, Formula<V>>();
  for (const formula of formulas) {
    if (bySymbol.has(formula.symbol)) throw new Error(`Two formulas for ${formula.symbol}.`);
    bySymbol.set(formula.symbol, formula);
  }
  const ordered: Formula<V>[] = [];
  const state = new Map<string, 'open' | 'done'>();
  const visit = (formula: Formula<V>): void => {
    const mark = state.get(formula.symbol);
    if (mark === 'done') return;
    if (mark === 'open') throw new Error(`The formula for ${formula.symbol} needs itself.`);
    state.set(formula.symbol, 'open');
    for (const input of formula.inputs) {
      const needed = bySymbol.get(input);
      if (needed) visit(needed);
    }
    state.set(formula.symbol, 'done');
    ordered.push(formula);
  };
  formulas.forEach(visit);
  return { formulas: ordered, bySymbol };
}

/**
 * Works out every formula from the given values. With `previous`, a formula whose inputs are the same objects keeps its
 * result, and a result equal to the previous one keeps its identity, so an edit recomputes only what it touches.
 * @param counted called with the symbol of each formula that is really computed.
 */
export function evaluate<V>(
  sheet: SheetDefinition<V>,
  given: Partial<Evaluation<V>>,
  previous?: Evaluation<V>,
  counted?: (symbol: string) => void,
): Evaluation<V> {
  const results: Record<string, Outcome<unknown>> = {};
  for (const [symbol, value] of Object.entries(given) as [string, Outcome<unknown>][]) {
    results[symbol] = keepIdentity(value, (previous as Record<string, Outcome<unknown>> | undefined)?.[symbol]);
  }
  const before = previous as Record<string, Outcome<unknown>> | undefined;
  for (const formula of sheet.formulas) {
    const old = before?.[formula.symbol];
    if (old && formula.inputs.every((input) => results[input] === before?.[input])) {
      results[formula.symbol] = old;
      continue;
    }
    counted?.(formula.symbol);
    results[formula.symbol] = keepIdentity(computeOne(formula, results), old);
  }
  return results as Evaluation<V>;
}

function computeOne<V>(formula: Formula<V>, results: Readonly<Record<string, Outcome<unknown>>>): Outcome<unknown> {
  const values: Record<string, unknown> = {};
  for (const input of formula.inputs) {
    const outcome = results[input];
    if (!outcome) return unknown(`${input} has not been given`);
    if (outcome.state === 'unknown') return outcome;
    values[input] = outcome.value;
  }
  const outcome = formula.compute(values as V);
  const bad = outcome.state === 'known' && typeof outcome.value === 'number' && !Number.isFinite(outcome.value);
  return bad ? unknown(`${formula.label.toLowerCase()} has no finite value with these values`) : outcome;
}

function keepIdentity(next: Outcome<unknown>, old: Outcome<unknown> | undefined): Outcome<unknown> {
  return old !== undefined && sameValue(next, old) ? old : next;
}

function sameValue(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = Object.keys(x);
  return keys.length === Object.keys(y).length && keys.every((key) => sameValue(x[key], y[key]));
}
