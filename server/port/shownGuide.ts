import type { GuideState, ShownStep } from '@kavrid/contract';
import {
  diagnose,
  guidedJog,
  leadingCauses,
  neededBefore,
  stepContext,
  stepOf,
  stepResults,
  stepsFor,
  stepStale,
  type SessionState,
  type StepContext,
} from '@kavrid/core/procedure';

/** The guided steps of a member as a window shows them. */
export function shownGuide(memberId: string, state: SessionState, window: string): GuideState {
  const context = stepContext(state, state.guided?.given ?? {});
  if (!context) {
    const motion = state.plan?.motion;
    const because = motion?.kind === 'unknown' ? motion.because : state.planMissing;
    return { memberId, because, steps: [], causes: [] };
  }
  const causes = diagnose(stepResults(state));
  const leading = new Set(leadingCauses(causes).map(({ cause }) => cause.id));
  return {
    memberId,
    steps: stepsFor(context).flatMap((id) => shownStep(id, state, context) ?? []),
    ...runOf(state, window),
    causes: causes
      .filter(({ probability }) => probability > 0.02)
      .slice(0, 4)
      .map(({ cause: { id, title, remedy }, probability, because }) => ({
        id,
        title,
        remedy,
        probability,
        because,
        isLeading: leading.has(id),
      })),
  };
}

function shownStep(id: string, state: SessionState, context: StepContext): ShownStep | undefined {
  const step = stepOf(id);
  if (!step) return undefined;
  const isUp = state.link === 'up';
  const evidence = state.stepEvidence.find(({ payload }) => payload.step === id);
  const stale = evidence && stepStale(state, evidence);
  const { step: _, ...result } = evidence?.payload ?? { step: '' };
  return {
    id,
    phase: step.phase,
    title: step.title,
    task: step.task(context),
    question: step.question(context),
    isLinked: isUp && step.linked !== undefined,
    isDrill: isUp && context.canCommand && step.linked?.drill !== undefined,
    ...(isUp && step.linked?.done !== undefined && !(context.canCommand && step.linked.drill)
      ? { done: step.linked.done }
      : {}),
    first: neededBefore(id, context),
    asksCommanded: step.asksCommanded?.(context, isUp) ?? false,
    ...(evidence && 'verdict' in result
      ? {
          result: {
            ...result,
            madeAt: evidence.madeAt,
            revision: evidence.revision,
            ...(stale === undefined ? {} : { staleBecause: stale }),
          },
        }
      : {}),
  };
}

function runOf(state: SessionState, window: string): Pick<GuideState, 'run'> {
  const { guided } = state;
  if (!guided) return {};
  const jog = guidedJog(state);
  return {
    run: {
      step: guided.step,
      isByHand: guided.isByHand,
      phase: guided.phase,
      ...(jog ? { jog: { speed: jog.speed, directions: jog.directions } } : {}),
      isHere: guided.window === window,
      because: guided.because,
    },
  };
}
