import { axisWords, evaluateAxis, sheetFor, type AxisValues } from '@kavrid/core/chain';
import { valueText, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { readAxis } from './readAxis.ts';

/** A computed value that differs between two states of an axis, in words. */
export interface ResultChange {
  readonly symbol: string;
  readonly label: string;
  readonly unit: string;
  readonly before: string;
  readonly after: string;
}

const words = (outcome: Outcome<unknown>) => (outcome.state === 'known' ? valueText(outcome.value) : 'unknown');

/** Which results of the sheet differ between two states of an axis, in the order of the sheet. */
export function resultChanges(before: AxisDocument, after: AxisDocument): readonly ResultChange[] {
  const { input } = readAxis(after);
  const [was, is] = [evaluateAxis(readAxis(before).input), evaluateAxis(input)];
  return [...sheetFor(input).bySymbol.values()].flatMap(({ symbol, label, unit }) => {
    const [a, b] = [words(was[symbol as keyof AxisValues]), words(is[symbol as keyof AxisValues])];
    return a === b
      ? []
      : [{ symbol, label: axisWords(label, input), unit: axisWords(unit, input), before: a, after: b }];
  });
}
