import { hasBrake, type AxisGuide } from './axisGuide.ts';
import { stepOf } from './boundStep.ts';
import type { AnyStepContext } from './guidedStep.ts';
import { spindleCauses } from './spindleCauses.ts';
import { startCauses, type StartCause } from './startCauses.ts';

/** A cause and its probability, given the results of the steps so far. */
export interface NamedCause {
  readonly cause: StartCause;
  /** 0 to 1 */
  readonly probability: number;
  /** Titles of the steps that speak for it. */
  readonly because: readonly string[];
}

/** One thing that is wrong. */
export interface Fault {
  /** What it may be, as far as that cannot be told apart. */
  readonly causes: readonly NamedCause[];
  /** Less probable. */
  readonly others: readonly NamedCause[];
}

/** A sign that nothing is wrong is seen this often when the cause at hand has nothing to do with the step. */
const usualPass = 0.97;
/** Nobody observes without error: no sign is ruled out altogether. */
const lapse = 0.01;
/** How common a cause is that is not on the list, on the scale of the weights. */
const unlistedWeight = 1;

/** What a step has shown, against what it shows where nothing is wrong. */
interface Found {
  readonly step: string;
  readonly title: string;
  readonly sign: string;
  readonly passes: readonly string[];
  readonly failed: boolean;
}

/** Every sign of a step: what its question offers, and what its causes name. */
const likelihood = (cause: StartCause | undefined, { step, sign, passes }: Found): number => {
  const shows = cause?.shows[step];
  if (shows === undefined) return passes.includes(sign) ? usualPass : (1 - usualPass) / 4;
  const said = shows[sign];
  if (said !== undefined) return Math.max(lapse, said);
  const rest = 1 - Object.values(shows).reduce((sum, share) => sum + share, 0);
  return Math.max(lapse, rest / 4);
};

/** What an axis has that not every axis has. */
const has: Readonly<Record<NonNullable<StartCause['only']>, (guide: AxisGuide) => boolean>> = {
  brake: (guide) => hasBrake(guide) || guide.isSuspended,
  pulses: ({ commandedBy }) => commandedBy === 'pulses',
  signal: ({ commandedBy }) => commandedBy === 'signal',
  'loop in the controller': ({ loopIn }) => loopIn === 'controller',
};

/** What is known of a member: the results of its steps, and what it is. */
export type Diagnosed = {
  readonly [K in AnyStepContext['kind']]: Of<Extract<AnyStepContext, { kind: K }>>;
}[AnyStepContext['kind']];
type Of<C extends AnyStepContext> = Pick<C, 'kind' | 'guide' | 'results' | 'canCommand'>;

const causesAt = (context: Diagnosed): readonly StartCause[] =>
  context.kind === 'axis'
    ? startCauses
        .filter(({ only }) => only === undefined || has[only](context.guide))
        .map((cause) => (context.canCommand ? cause : { ...cause, shows: { ...cause.shows, ...cause.watched } }))
    : spindleCauses;

/** A cause that explains a failed step shows its sign at least so often. */
const explains = ({ shows }: StartCause, { step, sign, failed }: Found): boolean =>
  failed && (shows[step]?.[sign] ?? 0) > 0.05;

/** The causes that explain at least one of the failed steps, the most probable first, by Bayes’ rule over what each step has shown. */
function rank(found: readonly Found[], known: readonly StartCause[]): readonly NamedCause[] {
  const weigh = (cause: StartCause | undefined, weight: number) =>
    found.reduce((product, each) => product * likelihood(cause, each), weight);
  const weighed = known.map((cause) => ({ cause, weight: weigh(cause, cause.weight) }));
  const whole = weighed.reduce((sum, { weight }) => sum + weight, weigh(undefined, unlistedWeight));
  return weighed
    .map(({ cause, weight }) => ({
      cause,
      probability: weight / whole,
      because: found.filter((each) => explains(cause, each)).map(({ title }) => title),
    }))
    .filter(({ because }) => because.length > 0)
    .sort((a, b) => b.probability - a.probability);
}

/**
 * Causes that cannot be told apart by what is known: those that explain a step which the first explains, too, and are at least a third as
 * probable.
 */
function leading(causes: readonly NamedCause[]): readonly NamedCause[] {
  const [first] = causes;
  if (!first) return [];
  return causes.filter(
    ({ probability, because }) =>
      probability >= first.probability / 3 && because.some((title) => first.because.includes(title)),
  );
}

/**
 * What may be wrong: for each fault that the failed steps point at, the causes that cannot be told apart, and what else it may be. The
 * first fault is the one that explains most; what it leaves unexplained is another. Empty where no step has failed: nothing is accused by
 * signs that are all right.
 */
export function diagnose(context: Diagnosed): readonly Fault[] {
  const known = causesAt(context);
  const all = Object.entries(context.results).flatMap(([step, result]): readonly Found[] => {
    const sign = result?.sign ?? '';
    const { passes, title } = stepOf(context.kind, step) ?? { passes: [] as readonly string[], title: step };
    return sign === '' ? [] : [{ step, title, sign, passes, failed: !passes.includes(sign) }];
  });
  const faults: Fault[] = [];
  for (let found = all; found.some(({ failed }) => failed) && faults.length < most;) {
    const ranked = rank(found, known);
    const causes = leading(ranked);
    if (causes.length === 0) break;
    const others = ranked.filter((each) => !causes.includes(each)).slice(0, 2);
    faults.push({ causes, others });
    found = found.filter((each) => !causes.some(({ cause }) => explains(cause, each)));
  }
  return faults;
}
const most = 3;
