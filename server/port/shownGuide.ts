import type { GuideState, ShownStep } from '@kavrid/contract';
import {
  boundStep,
  diagnose,
  guidedJog,
  motionTorque,
  stepContext,
  stepIds,
  stepStale,
  type AnyStepContext,
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
    steps: stepIds(context).flatMap((id) => shownStep(id, state, context) ?? []),
    ...runOf(state, window),
    faults: faultsOf(context),
  };
}

const faultsOf = (context: AnyStepContext): GuideState['faults'] =>
  diagnose(context).map(({ causes, others }) => ({
    causes: causes.map(shownCause),
    others: others.filter(({ probability }) => probability > 0.02).map(({ cause }) => cause.title),
  }));

const shownCause = ({ cause: { id, title, remedy }, because }: NamedCause) => ({ id, title, remedy, because });

function shownStep(id: string, state: SessionState, context: AnyStepContext): ShownStep | undefined {
  const step = boundStep(id, context);
  if (!step) return undefined;
  const isLinked = state.link === 'up' && step.isWatched;
  const evidence = state.stepEvidence.find(({ payload }) => payload.step === id);
  const stale = evidence && stepStale(state, evidence);
  const { step: _, ...result } = evidence?.payload ?? { step: '' };
  const { drill } = step;
  return {
    id,
    phase: step.phase,
    title: step.title,
    task: step.task,
    question: step.question,
    isLinked,
    isDrill: isLinked && drill !== undefined,
    isPassive: typeof drill === 'object' && drill.kind === 'compare',
    done: isLinked ? step.done : {},
    first: step.first,
    ...(drill !== undefined && context.kind === 'axis' ? torqueOf(context) : {}),
    asks: step.asks(isLinked),
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
