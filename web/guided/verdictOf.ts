import type { ShownStep } from '@kavrid/contract';

const words = { passed: 'passed', failed: 'failed', undecided: 'undecided', skipped: 'skipped' } as const;
const colours = {
  passed: 'success.main',
  failed: 'error.main',
  undecided: 'warning.main',
  skipped: 'text.secondary',
} as const;

/** How a step stands, in a word. Green is for what was read back and holds; what a person has observed is not. */
export function verdictOf(
  { result, first }: Pick<ShownStep, 'result' | 'first'>,
  isUnderWay: boolean,
): { readonly words: string; readonly colour: string } {
  if (isUnderWay) return { words: 'under way', colour: 'primary.main' };
  if (!result) return { words: first.length > 0 ? '' : 'open', colour: 'text.secondary' };
  if (result.staleBecause !== undefined)
    return { words: `${words[result.verdict]}, out of date`, colour: 'warning.main' };
  const isObserved = result.verdict === 'passed' && result.known !== 'read back';
  return isObserved
    ? { words: 'observed', colour: 'text.primary' }
    : { words: words[result.verdict], colour: colours[result.verdict] };
}
