import { exactToText, formatExact, formatNumber, isRational, type Exact } from '../quantity/index.ts';
import type { Evaluation, SheetDefinition } from './evaluate.ts';

/** How a result came about, for a person to check by hand. */
export interface Working {
  readonly symbol: string;
  readonly label: string;
  readonly expression: string;
  /** The expression with the numbers put in. */
  readonly numbers: string;
  readonly result: string;
  readonly unit: string;
  readonly source: string;
}

/** Made only on request. @returns undefined for a symbol that is given, not computed. */
export function workingOf<V>(
  sheet: SheetDefinition<V>,
  results: Evaluation<V>,
  symbol: keyof V & string,
): Working | undefined {
  const formula = sheet.bySymbol.get(symbol);
  if (!formula) return undefined;
  const outcome = results[symbol];
  const numbers = formula.expression.replace(/\{(\w+)\}/g, (whole, name: string) => {
    const input = results[name as keyof V];
    return input === undefined ? whole : input.state === 'known' ? valueText(input.value) : '?';
  });
  return {
    symbol,
    label: formula.label,
    expression: formula.expression.replace(/\{(\w+)\}/g, (_, name: string) => symbolText(name)),
    numbers,
    result: outcome.state === 'known' ? valueText(outcome.value) : `unknown, because ${outcome.because}`,
    unit: formula.unit,
    source: formula.source,
  };
}

const words: Readonly<Record<string, string>> = {
  countsPerRevolution: 'Q',
  gearNumerator: 'N',
  gearDenominator: 'D',
  transmissionRatio: 'i',
  travelPerTurn: 'L',
  pulsesPerRevolution: 'P',
  stepsPerUnit: 'S',
  wantedResolution: 'u',
};

/** The short symbol of the trade where there is one; else the name in words. */
export const symbolText = (name: string): string =>
  words[name] ?? name.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);

/** A value of a sheet for reading, without its unit. */
export function valueText(value: unknown): string {
  if (typeof value === 'number') return formatNumber(value);
  if (typeof value === 'string') return value;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (isExact(value)) {
    const shown = formatExact(value);
    return shown.startsWith('≈') && isRational(value) && value.ratio.denominator < 1000000n
      ? `${exactToText(value)} ${shown}`
      : shown;
  }
  if (Array.isArray(value)) return value.map(valueText).join(', ');
  return typeof value === 'object' && value !== null
    ? Object.values(value)
        .filter((each) => typeof each !== 'object')
        .map(valueText)
        .join(' ')
    : '';
}

export const isExact = (value: unknown): value is Exact =>
  typeof value === 'object' && value !== null && 'ratio' in value && 'piPower' in value;
