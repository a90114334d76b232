import { stepOf } from './axisSteps.ts';
import type { StepResults } from './guidedStep.ts';
import { startCauses, type StartCause } from './startCauses.ts';

/** A cause with how probable it is after the steps so far. */
export interface NamedCause {
  readonly cause: StartCause;
  /** 0 to 1 */
  readonly probability: number;
  /** Titles of the steps that speak for it. */
  readonly because: readonly string[];
}

/** A sign that nothing is wrong is seen this often when the cause at hand has nothing to do with the step. */
const usualPass = 0.97;
/** Nobody observes without error: no sign is ruled out altogether. */
const lapse = 0.01;
/** How common a cause is that is not on the list, on the scale of the weights. */
const unlistedWeight = 1;

/** Every sign of a step: what its question offers, and what its causes name. */
const likelihood = (cause: StartCause | undefined, step: string, sign: string): number => {
  const passes = stepOf(step)?.passes ?? [];
  const shows = cause?.shows[step];
  if (shows === undefined) return passes.includes(sign) ? usualPass : (1 - usualPass) / 4;
  const said = shows[sign];
  if (said !== undefined) return Math.max(lapse, said);
  const rest = 1 - Object.values(shows).reduce((sum, share) => sum + share, 0);
  return Math.max(lapse, rest / 4);
};

/**
 * The causes that the failed steps point at, the most probable first, by Bayes’ rule over what each step has shown. Empty where no step
 * has failed: nothing is accused by signs that are all right.
 */
export function diagnose(results: StepResults): readonly NamedCause[] {
  const found = Object.entries(results).flatMap(([step, result]) =>
    result && (result.verdict === 'passed' || result.verdict === 'failed')
      ? [{ step, sign: result.sign, failed: result.verdict === 'failed' }]
      : [],
  );
  if (!found.some(({ failed }) => failed)) return [];
  const weigh = (cause: StartCause | undefined, weight: number) =>
    found.reduce((product, { step, sign }) => product * likelihood(cause, step, sign), weight);
  const weighed = startCauses.map((cause) => ({ cause, weight: weigh(cause, cause.weight) }));
  const whole = weighed.reduce((sum, { weight }) => sum + weight, weigh(undefined, unlistedWeight));
  return weighed
    .map(({ cause, weight }) => ({
      cause,
      probability: weight / whole,
      because: found
        .filter(({ step, sign, failed }) => failed && (cause.shows[step]?.[sign] ?? 0) > 0.05)
        .map(({ step }) => stepOf(step)?.title ?? step),
    }))
    .filter(({ because }) => because.length > 0)
    .sort((a, b) => b.probability - a.probability);
}

/** Causes that cannot be told apart by what is known: all that are at least a third as probable as the first. */
export const leadingCauses = (causes: readonly NamedCause[]): readonly NamedCause[] =>
  causes.filter(({ probability }) => probability >= (causes[0]?.probability ?? 0) / 3);
