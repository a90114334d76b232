import { causesFor, type Cause } from './causes.ts';
import {
  observationsFor,
  type FaultKind,
  type Observation,
  type ObservationId,
  type Observed,
} from './observations.ts';

/** A cause with how probable it is after what has been found. */
export interface RankedCause {
  readonly cause: Cause;
  /** 0 to 1; what all together lack of 1 is the share of causes that are not on the list */
  readonly probability: number;
  /** What has been found that speaks for it, and against it. */
  readonly for: readonly ObservationId[];
  readonly against: readonly ObservationId[];
  /** The plan itself has a finding that speaks for it. */
  readonly isPlanned: boolean;
}

/** How much more probable a finding of the plan makes its cause. */
const findingFactor = 8;
/** How common causes that are not on the list are, on the scale of the weights: answers that are all fine leave nothing else. */
const unlistedWeight = 40;
/** Nobody observes without error: no answer is ruled out altogether. */
const lapse = 0.01;

/** How likely an answer is when a cause is at work: what the cause says of it, the rest shared out as usual. */
export function likelihood(cause: Cause, observation: Observation, answer: string): number {
  const shows = cause.shows[observation.id as ObservationId] ?? {};
  const said = shows[answer];
  if (said !== undefined) return Math.max(lapse, said);
  const rest = 1 - Object.values(shows).reduce((sum, share) => sum + share, 0);
  const others = Object.entries(observation.answers).filter(([id]) => shows[id] === undefined);
  const usual = observation.answers[answer]?.usual ?? 0;
  const whole = others.reduce((sum, [, each]) => sum + each.usual, 0);
  return Math.max(lapse, whole > 0 ? (rest * usual) / whole : lapse);
}

/** Bayes' rule over independent observations: every cause, the most probable first. */
export function rankCauses(
  observed: Observed,
  planFindings: ReadonlySet<string>,
  kind: FaultKind,
): readonly RankedCause[] {
  const found = observationsFor(kind).flatMap((observation) => {
    const answer = observed[observation.id as ObservationId];
    return answer !== undefined && answer in observation.answers ? [{ observation, answer }] : [];
  });
  const weighed = causesFor(kind).map((cause) => {
    const isPlanned = cause.findings?.some((id) => planFindings.has(id)) ?? false;
    const prior = cause.weight * (isPlanned ? findingFactor : 1);
    const speaks = found.map(({ observation, answer }) => {
      const usual = observation.answers[answer]?.usual ?? lapse;
      return { id: observation.id as ObservationId, share: likelihood(cause, observation, answer), usual };
    });
    return { cause, isPlanned, speaks, weight: speaks.reduce((product, { share }) => product * share, prior) };
  });
  // A cause that is not on the list shows only the usual signs.
  const unlisted = found.reduce(
    (product, { observation, answer }) => product * Math.max(lapse, observation.answers[answer]?.usual ?? lapse),
    unlistedWeight,
  );
  const whole = weighed.reduce((sum, { weight }) => sum + weight, unlisted);
  return weighed
    .map(({ cause, isPlanned, speaks, weight }) => ({
      cause,
      isPlanned,
      probability: weight / whole,
      for: speaks.filter(({ share, usual }) => share > 2 * usual).map(({ id }) => id),
      against: speaks.filter(({ share, usual }) => share < usual / 2).map(({ id }) => id),
    }))
    .sort((a, b) => b.probability - a.probability);
}

/** An observation still to be made, and by how many bits it is expected to narrow the causes down. */
export interface NextObservation {
  readonly observation: Observation;
  readonly gain: number;
}

const entropy = (shares: readonly number[]): number =>
  shares.reduce((sum, share) => (share > 0 ? sum - share * Math.log2(share) : sum), 0);

/** The observations not made yet, the one that separates the causes best first (expected information, Shannon). */
export function nextObservations(
  observed: Observed,
  planFindings: ReadonlySet<string>,
  kind: FaultKind,
): readonly NextObservation[] {
  const now = rankCauses(observed, planFindings, kind);
  const before = entropy(now.map(({ probability }) => probability));
  return observationsFor(kind)
    .filter(({ id }) => observed[id as ObservationId] === undefined)
    .map((observation) => {
      const after = Object.keys(observation.answers).reduce((sum, answer) => {
        const joint = now.map(({ cause, probability }) => probability * likelihood(cause, observation, answer));
        const share = joint.reduce((a, b) => a + b, 0);
        return sum + share * entropy(joint.map((each) => each / share));
      }, 0);
      return { observation, gain: Math.max(0, before - after) };
    })
    .sort((a, b) => b.gain - a.gain);
}
