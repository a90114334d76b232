import { compare, divide, exact, exactRatio, multiply, type Exact } from './exact.ts';
import { plainNumeral, type DecimalMark } from './plainNumeral.ts';
import { parseRational } from './rational.ts';
import { parseUnit, sameDimension, unitOf } from './unit.ts';

export type ParsedQuantity =
  | {
      readonly kind: 'value';
      readonly value: Exact;
      readonly unit: string;
      /** The text as it was read, where it could have been read otherwise: `1,000 mm` as `1000 mm`. */
      readonly readAs?: string;
    }
  | { readonly kind: 'empty' }
  | { readonly kind: 'error'; readonly message: string };

/** What a field accepts. Bounds are in `unit`. */
export interface QuantityRule {
  readonly unit: string;
  /** What stands beside the field where it is no unit that could be converted: `%`, `1/s`. It may be typed, too. */
  readonly shownUnit?: string;
  readonly whole?: boolean;
  readonly above?: Exact;
  readonly atLeast?: Exact;
  readonly atMost?: Exact;
}

/** A numeral, perhaps over another one, then perhaps a unit: `2 in`, `300 rpm`, `1.5 m/min`, `10/3`, `1:2`, `12 bits`, `10k`. */
const numeral = String.raw`\d[\d.,'’ \u00a0\u2009\u202f]*`;
const form = new RegExp(
  String.raw`^([+-]?)(${numeral}|[.,]\d+)(?:[eE]([+-]?\d{1,3})(?![\d.]))?(?:\s*[/:]\s*(${numeral}))?\s*([^\d].*)?$`,
);

const longestText = 60;

/** Factors that may stand directly behind a number, before no unit: `10k` in a field in Ω is 10 kΩ. */
const prefixes: Readonly<Record<string, Exact>> = { k: exact(1000), M: exact(1000000) };

/**
 * Reads what a person typed and gives the exact value in `rule.unit` (`''` for a bare number).
 * A number without a unit is taken in `assumedUnit`.
 * @param mark how the reader's locale writes decimals; undefined for what is kept, which is written with points
 */
export function parseQuantity(
  text: string,
  rule: QuantityRule,
  assumedUnit: string = rule.unit,
  mark?: DecimalMark,
): ParsedQuantity {
  const trimmed = text.trim();
  const inUnit = rule.unit === '' ? '' : ` ${rule.unit}`;
  if (trimmed === '') return { kind: 'empty' };
  if (trimmed.length > longestText) return error(`Too long: at most ${longestText} characters.`);
  const notANumber = error(`“${trimmed}” is not a number. Enter for example 12, 0.5 or 10/3${example(rule.unit)}.`);
  const match = form.exec(trimmed);
  if (!match) return notANumber;
  const [, sign = '', above = '', exponent, below, suffix = ''] = match;
  const numerals = [above, ...(below === undefined ? [] : [below])].map((each) =>
    plainNumeral(each.replace(/^[.,]/, '0.'), mark),
  );
  const texts: string[] = [];
  for (const each of numerals) {
    if (each.kind === 'not a number') return notANumber;
    if (each.kind === 'ambiguous')
      return error(`“${trimmed}” can be read as ${each.readings[0]} or as ${each.readings[1]}. Enter one of these.`);
    texts.push(each.text);
  }
  const plain = `${sign}${texts[0]}${exponent === undefined ? '' : `e${exponent}`}${texts[1] === undefined ? '' : `/${texts[1]}`}`;
  const number = parseRational(plain);
  if (!number) return notANumber;
  const readAs = numerals.some((each) => each.kind === 'plain' && each.wasAmbiguous)
    ? { readAs: suffix === '' ? plain : `${plain} ${suffix.trim()}` }
    : {};
  let value = exactRatio(number);
  const typed = suffix.trim();
  const prefix = prefixes[typed];
  if (prefix) value = multiply(value, prefix);
  const isShownUnit = typed === rule.shownUnit && rule.shownUnit !== rule.unit;
  // A share may be given in per cent where the field counts in shares.
  const isShare = typed === '%' && rule.unit === '' && !isShownUnit;
  if (isShare) value = divide(value, exact(100));
  const symbol = prefix || isShownUnit || isShare || typed === '' ? assumedUnit : typed;
  if (symbol !== rule.unit) {
    const unit = parseUnit(symbol);
    if (!unit || rule.unit === '') {
      return error(
        rule.unit === ''
          ? `Enter a plain number here, without “${symbol}”.`
          : `“${symbol}” is not a known unit. Use ${rule.unit}.`,
      );
    }
    if (!sameDimension(unit.dimension, unitOf(rule.unit).dimension))
      return error(`“${symbol}” cannot be used here. Use ${rule.unit} or a unit of the same quantity.`);
    value = divide(multiply(value, unit.factor), unitOf(rule.unit).factor);
  }
  if (rule.whole && (value.piPower !== 0 || value.ratio.denominator !== 1n)) return error('Enter a whole number here.');
  if (rule.above && compare(value, rule.above) <= 0) return error(`Must be more than ${show(rule.above)}${inUnit}.`);
  if (rule.atLeast && compare(value, rule.atLeast) < 0)
    return error(`Must be at least ${show(rule.atLeast)}${inUnit}.`);
  if (rule.atMost && compare(value, rule.atMost) > 0) return error(`Must be at most ${show(rule.atMost)}${inUnit}.`);
  return { kind: 'value', value, unit: symbol, ...readAs };
}

const error = (message: string): ParsedQuantity => ({ kind: 'error', message });
const example = (unit: string) => (unit === '' ? '' : `, or with a unit: 12 ${unit}`);
const show = (value: Exact) => String(Number(value.ratio.numerator) / Number(value.ratio.denominator));
