import type { GuideState } from '@kavrid/contract';

/** How far guided steps are: what holds good of them. */
function standingOf(steps: GuideState['steps']): string {
  const holding = steps.filter(({ result }) => result && result.staleBecause === undefined);
  const failed = holding.filter(({ result }) => result?.verdict === 'failed').length;
  if (failed > 0) return `${failed} failed`;
  const behind = holding.filter(({ result }) => result?.verdict === 'passed' || result?.verdict === 'skipped').length;
  return behind === 0 ? 'not begun' : `${behind} of ${steps.length} done`;
}

const isStop = ({ phase }: GuideState['steps'][number]): boolean => phase === 'Stops' || phase === 'Machine test';

/** How far first power and stops are. */
export function guidedStanding(guide: GuideState | undefined): { readonly firstPower: string; readonly stops: string } {
  const steps = guide?.steps ?? [];
  return { firstPower: standingOf(steps.filter((step) => !isStop(step))), stops: standingOf(steps.filter(isStop)) };
}
