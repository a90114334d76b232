import { axisSteps } from './axisSteps.ts';
import {
  isBehind,
  type AnyStepContext,
  type AskedNumber,
  type Drill,
  type GuidedStep,
  type Judgement,
  type Question,
  type StepPhase,
  type StepRecord,
  type StepResult,
} from './guidedStep.ts';
import { spindleSteps } from './spindleSteps.ts';

/** A step as it is at one member: its words, what it makes the drive do, and its judgement. */
export interface BoundStep {
  readonly id: string;
  readonly phase: StepPhase;
  readonly title: string;
  readonly task: string;
  readonly question: Question;
  readonly passes: readonly string[];
  /** Titles of the steps that have to be behind before this one may begin. */
  readonly first: readonly string[];
  /** A linked drive shows what the step is about: it is made to do it, or is watched while somebody else does. */
  readonly isWatched: boolean;
  /** It goes on when the link is lost and comes back. */
  readonly outlivesLink: boolean;
  /** What the drive would be made to do; a text: why it cannot; undefined: nothing. */
  readonly drill: Drill | string | undefined;
  readonly done: Readonly<Record<string, string>>;
  readonly asks: (isLinked: boolean) => readonly AskedNumber[];
  readonly judge: (record: StepRecord) => Judgement;
  readonly signOf: ((answer: number) => Omit<StepResult, 'known'>) | undefined;
}

type Registry<C extends AnyStepContext> = Readonly<Record<string, GuidedStep<C>>>;

const withSteps = <T>(
  context: AnyStepContext,
  use: <C extends AnyStepContext>(steps: Registry<C>, context: C) => T,
): T => (context.kind === 'axis' ? use(axisSteps, context) : use(spindleSteps, context));

/** The steps that this member has, in their order. */
export const stepIds = (context: AnyStepContext): readonly string[] =>
  withSteps(context, (steps, of) => Object.keys(steps).filter((id) => steps[id]?.applies(of)));

/** One of its steps; undefined: it has none of that name. */
export const boundStep = (id: string, context: AnyStepContext): BoundStep | undefined =>
  withSteps(context, (steps, of) => {
    const step = Object.hasOwn(steps, id) ? steps[id] : undefined;
    return step?.applies(of) ? bind(id, step, steps, of) : undefined;
  });

function bind<C extends AnyStepContext>(id: string, step: GuidedStep<C>, steps: Registry<C>, context: C): BoundStep {
  const { phase, title, passes, linked, signOf } = step;
  const first = step.needs.flatMap((needed) => {
    const before = steps[needed];
    return before?.applies(context) && !isBehind(context.results[needed]) ? [before.title] : [];
  });
  const { canCommand } = context;
  return {
    id,
    phase,
    title,
    passes,
    first,
    get task() {
      return step.task(context);
    },
    get question() {
      return step.question(context);
    },
    get drill() {
      return canCommand ? linked?.drill?.(context) : undefined;
    },
    isWatched: linked !== undefined && (canCommand || linked.drill === undefined || linked.done !== undefined),
    outlivesLink: step.outlivesLink === true,
    done: (canCommand && linked?.drill ? undefined : linked?.done) ?? {},
    asks: (isLinked) => step.asks?.(isLinked) ?? [],
    judge: (record) => linked?.judge(record, context) ?? { kind: 'ask' },
    signOf: signOf && ((answer) => signOf(answer, context)),
  };
}

type Facts = Pick<GuidedStep, 'phase' | 'title' | 'passes' | 'needs' | 'holdsFor'>;

const allSteps: { readonly [K in AnyStepContext['kind']]: Readonly<Record<string, Facts>> } = {
  axis: axisSteps,
  spindle: spindleSteps,
};

/** What is the same of a step at every axis, or every spindle; undefined: there is no such step. */
export const stepOf = (kind: AnyStepContext['kind'], id: string): Facts | undefined =>
  Object.hasOwn(allSteps[kind], id) ? allSteps[kind][id] : undefined;
