import type { GuideState, ShownStep } from '@kavrid/contract';
import {
  diagnose,
  guidedJog,
  isWatched,
  motionTorque,
  neededBefore,
  stepContext,
  stepOf,
  stepResults,
  stepsFor,
  stepStale,
  type NamedCause,
  type SessionState,
  type StepContext,
} from '@kavrid/core/procedure';

/** The guided steps of a member as a window shows them. */
export function shownGuide(memberId: string, state: SessionState, window: string): GuideState {
  const context = stepContext(state, state.guided?.given ?? {});
  if (!context) {
    const motion = state.plan?.motion;
    const because = motion?.kind === 'unknown' ? motion.because : state.planMissing;
    return { memberId, because, steps: [], faults: [] };
  }
  return {
    memberId,
    steps: stepsFor(context).flatMap((id) => shownStep(id, state, context) ?? []),
    ...runOf(state, window),
    faults: diagnose(stepResults(state), context.guide).map(({ causes, others }) => ({
      causes: causes.map(shownCause),
      others: others.filter(({ probability }) => probability > 0.02).map(({ cause }) => cause.title),
    })),
  };
}

const shownCause = ({ cause: { id, title, remedy }, because }: NamedCause) => ({ id, title, remedy, because });

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
    isLinked: isUp && isWatched(step, context),
    isDrill: isUp && context.canCommand && step.linked?.drill !== undefined,
    ...(isUp && step.linked?.done !== undefined && !(context.canCommand && step.linked.drill)
      ? { done: step.linked.done }
      : {}),
    first: neededBefore(id, context),
    ...(step.linked?.drill ? torqueOf(context) : {}),
    asks: step.asks?.(isUp && isWatched(step, context)) ?? [],
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

function torqueOf(context: StepContext): Pick<ShownStep, 'torque'> {
  const torque = motionTorque(context);
  if (!('percent' in torque)) return {};
  return { torque: { percent: torque.percent, ...(torque.next === undefined ? {} : { next: torque.next }) } };
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
