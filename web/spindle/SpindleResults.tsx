import { formatExact, formatNumber } from '@kavrid/core/quantity';
import { isExact, valueText, workingOf } from '@kavrid/core/sheet';
import { spindleSheet, spindleSignalUnit, type SpindleValues } from '@kavrid/core/spindle';
import { ResultList } from '../ui/ResultList.tsx';
import { useSpindle } from '../member/useSpindle.ts';

export type SpindleSymbol = keyof SpindleValues & string;
export interface SpindleResultGroup {
  readonly title: string;
  readonly symbols: readonly SpindleSymbol[];
  /** Shown only where they are known. */
  readonly optional?: readonly SpindleSymbol[];
}

const leading: ReadonlySet<SpindleSymbol> = new Set([
  'connection',
  'motorCurrent',
  'highestToolSpeed',
  'highestBy',
  'signalPerToolRpm',
  'toolStep',
  'shortestStop',
  'reachableStart',
  'busLoad',
  'leastTimeOut',
  'worstFlux',
]);

/** Results of the spindle's sheet with their units and workings. */
export function SpindleResults({ groups }: { readonly groups: readonly SpindleResultGroup[] }) {
  const { input, results } = useSpindle().computation;
  const signal = spindleSignalUnit(input.command);
  const named = (template: string) => template.replace('{signal}', signal);
  return (
    <ResultList
      groups={groups.map(({ title, symbols, optional = [] }) => ({
        title,
        rows: [...symbols, ...optional.filter((symbol) => results[symbol].state === 'known')].map((symbol) => {
          const formula = spindleSheet.bySymbol.get(symbol);
          const outcome = results[symbol];
          const { label, unit } = formula ?? given[symbol] ?? { label: symbol, unit: '' };
          const line = { symbol, label, isLeading: leading.has(symbol) };
          return outcome.state === 'known'
            ? { ...line, ...shown(outcome.value, named(unit)) }
            : { ...line, text: 'unknown', unit: '', because: outcome.because };
        }),
      }))}
      workingOf={(symbol) => {
        const working = workingOf(spindleSheet, results, symbol as SpindleSymbol);
        return working && { ...working, unit: named(working.unit) };
      }}
    />
  );
}

/** Labels and units of what is given to the sheet, not worked out by it. */
const given: Readonly<Partial<Record<SpindleSymbol, { readonly label: string; readonly unit: string }>>> = {
  leastOhms: { label: 'Lowest resistor value', unit: 'Ω' },
};

function shown(value: unknown, unit: string): { readonly text: string; readonly unit: string } {
  if (isExact(value)) return { text: formatExact(value, 8), unit };
  if (typeof value !== 'number') return { text: valueText(value), unit };
  return unit === 's' && Math.abs(value) < 1
    ? { text: formatNumber(1000 * value, 4), unit: 'ms' }
    : { text: formatNumber(value, 5), unit };
}
