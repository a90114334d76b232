import type { ChoiceCommandDocument } from '@kavrid/contract';
import type { ChoiceInputs } from '@kavrid/core/signal';
import { useAxis } from '../member/useAxis.ts';

/** The choice inputs of the axis on screen, as typed and as read. @throws Error where there are none */
export function useChoiceCommand(): { readonly typed: ChoiceCommandDocument; readonly choice: ChoiceInputs } {
  const { document, computation } = useAxis();
  const [typed, read] = [document.command, computation.input.command];
  if (typed.kind !== 'choice' || read.kind !== 'choice')
    throw new Error('The moves of this axis are not selected by inputs.');
  return { typed, choice: read.choice };
}
