import { compare, divide, exactRatio, multiply, type Exact } from './exact.ts';
import { parseRational } from './rational.ts';
import { parseUnit, sameDimension, unitOf } from './unit.ts';

export type ParsedQuantity =
  | { readonly kind: 'value'; readonly value: Exact; readonly unit: string }
  | { readonly kind: 'empty' }
  | { readonly kind: 'error'; readonly message: string };

/** What a field accepts. Bounds are in `unit`. */
export interface QuantityRule {
  readonly unit: string;
  readonly whole?: boolean;
  readonly above?: Exact;
  readonly atLeast?: Exact;
  readonly atMost?: Exact;
}

/** A number, then optionally a unit: `2 in`, `300 rpm`, `1.5 m/min`, `10/3`, `12 bits`. */
const form = /^([+-]?[\d.]+(?:[eE][+-]?\d+)?(?:\s*\/\s*[\d.]+)?)\s*(.*)$/;

const longestText = 60;

/**
 * Reads what a person typed and gives the exact value in `rule.unit` (`''` for a bare number).
 * A number without a unit is taken in `assumedUnit`. Decimal commas are read as points.
 */
export function parseQuantity(text: string, rule: QuantityRule, assumedUnit: string = rule.unit): ParsedQuantity {
  const trimmed = text.trim();
  const inUnit = rule.unit === '' ? '' : ` ${rule.unit}`;
  if (trimmed === '') return { kind: 'empty' };
  if (trimmed.length > longestText) return error(`Too long: at most ${longestText} characters.`);
  const match = form.exec(trimmed.replace(/(\d),(\d)/g, '$1.$2'));
  const number = match?.[1] === undefined ? undefined : parseRational(match[1]);
  if (!match || !number)
    return error(`“${trimmed}” is not a number. Type for example 12, 0.5 or 10/3${example(rule.unit)}.`);
  const symbol = match[2]?.trim() || assumedUnit;
  let value = exactRatio(number);
  if (symbol !== rule.unit) {
    const unit = parseUnit(symbol);
    if (!unit || rule.unit === '') {
      return error(
        rule.unit === ''
          ? `A plain number is wanted here, without “${symbol}”.`
          : `“${symbol}” is not a unit known here. Use ${rule.unit}.`,
      );
    }
    if (!sameDimension(unit.dimension, unitOf(rule.unit).dimension))
      return error(`“${symbol}” cannot be given here. Use ${rule.unit} or a unit like it.`);
    value = divide(multiply(value, unit.factor), unitOf(rule.unit).factor);
  }
  if (rule.whole && (value.piPower !== 0 || value.ratio.denominator !== 1n))
    return error('A whole number is wanted here.');
  if (rule.above && compare(value, rule.above) <= 0) return error(`Must be more than ${show(rule.above)}${inUnit}.`);
  if (rule.atLeast && compare(value, rule.atLeast) < 0)
    return error(`Must be at least ${show(rule.atLeast)}${inUnit}.`);
  if (rule.atMost && compare(value, rule.atMost) > 0) return error(`Must be at most ${show(rule.atMost)}${inUnit}.`);
  return { kind: 'value', value, unit: symbol };
}

const error = (message: string): ParsedQuantity => ({ kind: 'error', message });
const example = (unit: string) => (unit === '' ? '' : `, or with a unit: 12 ${unit}`);
const show = (value: Exact) => String(Number(value.ratio.numerator) / Number(value.ratio.denominator));
