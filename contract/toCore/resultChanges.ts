import { axisSheet, evaluateAxis, type AxisValues } from '@kavrid/core/chain';
import { valueText, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { axisUnitOf, readAxis } from './readAxis.ts';

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
  const [was, is] = [before, after].map((document) => evaluateAxis(readAxis(document).input)) as [
    ReturnType<typeof evaluateAxis>,
    ReturnType<typeof evaluateAxis>,
  ];
  return [...axisSheet.bySymbol.values()].flatMap(({ symbol, label, unit }) => {
    const [a, b] = [words(was[symbol as keyof AxisValues]), words(is[symbol as keyof AxisValues])];
    return a === b ? [] : [{ symbol, label, unit: unit.replace('{u}', axisUnitOf(after)), before: a, after: b }];
  });
}
