import { axisWords, evaluateAxis, sheetFor } from '@kavrid/core/chain';
import { valueText, type Evaluation, type Outcome, type SheetDefinition } from '@kavrid/core/sheet';
import { evaluateSpindle, spindleSheet, spindleSignalUnit } from '@kavrid/core/spindle';
import type { AxisDocument } from '../documents.ts';
import type { MemberDocument } from '../member.ts';
import type { SpindleDocument } from '../spindleDocument.ts';
import { axisInputOf } from './axisInputOf.ts';
import { spindleInputOf } from './spindleInputOf.ts';

/** A computed value that differs between two states of an axis, in words. */
export interface ResultChange {
  readonly symbol: string;
  readonly label: string;
  readonly unit: string;
  readonly before: string;
  readonly after: string;
}

const words = (outcome: Outcome<unknown>) => (outcome.state === 'known' ? valueText(outcome.value) : 'unknown');

/** Which results of the sheet differ between two states of an axis or a spindle, in the order of the sheet. */
export function resultChanges(before: MemberDocument, after: MemberDocument): readonly ResultChange[] {
  if (before.kind === 'spindle' && after.kind === 'spindle') return spindleChanges(before, after);
  if (before.kind === 'axis' && after.kind === 'axis') return axisChanges(before, after);
  return [];
}

function axisChanges(before: AxisDocument, after: AxisDocument): readonly ResultChange[] {
  const { input } = axisInputOf(after);
  const [was, is] = [evaluateAxis(axisInputOf(before).input), evaluateAxis(input)];
  return differing(sheetFor(input), was, is, (template) => axisWords(template, input));
}

function spindleChanges(before: SpindleDocument, after: SpindleDocument): readonly ResultChange[] {
  const { input } = spindleInputOf(after);
  const signal = spindleSignalUnit(input.command);
  const [was, is] = [evaluateSpindle(spindleInputOf(before).input), evaluateSpindle(input)];
  return differing(spindleSheet, was, is, (template) => template.replace('{signal}', signal));
}

const differing = <V>(
  sheet: SheetDefinition<V>,
  was: Evaluation<V>,
  is: Evaluation<V>,
  named: (template: string) => string,
): readonly ResultChange[] =>
  [...sheet.bySymbol.values()].flatMap(({ symbol, label, unit }) => {
    const [before, after] = [words(was[symbol]), words(is[symbol])];
    return before === after ? [] : [{ symbol, label: named(label), unit: named(unit), before, after }];
  });
