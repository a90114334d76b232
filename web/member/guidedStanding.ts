import type { GuideState } from '@kavrid/contract';
import type { StepPhase } from '@kavrid/core/procedure';

/** How far guided steps are: what holds good of them. */
function standingOf(steps: GuideState['steps']): string {
  const holding = steps.filter(({ result }) => result && result.staleBecause === undefined);
  const failed = holding.filter(({ result }) => result?.verdict === 'failed').length;
  if (failed > 0) return `${failed} failed`;
  const behind = holding.filter(({ result }) => result?.verdict === 'passed' || result?.verdict === 'skipped').length;
  return behind === 0 ? 'not begun' : `${behind} of ${steps.length} done`;
}

const stopPhases: readonly StepPhase[] = ['Stops', 'Machine test'];

/** How far first power, stops and the checks of homing are. */
export function guidedStanding(guide: GuideState | undefined): {
  readonly firstPower: string;
  readonly stops: string;
  readonly homing: string;
} {
  const steps = guide?.steps ?? [];
  const standing = (phases: readonly StepPhase[], isIn = true) =>
    standingOf(steps.filter(({ phase }) => phases.includes(phase) === isIn));
  return {
    firstPower: standing([...stopPhases, 'Homing'], false),
    stops: standing(stopPhases),
    homing: standing(['Homing']),
  };
}
