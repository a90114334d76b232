import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  causes,
  causesFor,
  likelihood,
  nextObservations,
  observations,
  observationsFor,
  rankCauses,
  type Cause,
  type FaultKind,
  type Observation,
  type ObservationId,
  type Observed,
} from './index.ts';

const nothing: ReadonlySet<string> = new Set();

/** A reproducible random number below 1 (Park and Miller, minimal standard). */
function dice(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

/** What somebody sees at a drive with this cause. */
function look(cause: Cause, observation: Observation, random: () => number): string {
  const answers = Object.keys(observation.answers);
  const shares = answers.map((answer) => likelihood(cause, observation, answer));
  let rest = random() * shares.reduce((a, b) => a + b, 0);
  return answers.find((_, k) => (rest -= shares[k] ?? 0) <= 0) ?? answers[0] ?? '';
}

/** Looks where one is sent until a cause is clear or nothing is left to look at. */
function search(
  cause: Cause,
  random: () => number,
  choose: (observed: Observed) => Observation | undefined,
  kind: FaultKind = cause.only ?? 'pulses',
) {
  let observed: Observed = {};
  let steps = 0;
  for (let next = choose(observed); next; next = choose(observed)) {
    observed = { ...observed, [next.id as ObservationId]: look(cause, next, random) };
    steps++;
    if ((rankCauses(observed, nothing, kind)[0]?.probability ?? 0) > 0.9) break;
  }
  return { ranked: rankCauses(observed, nothing, kind), steps };
}
const best = (kind: FaultKind) => (observed: Observed) => nextObservations(observed, nothing, kind)[0]?.observation;
const inOrder = (observed: Observed): Observation | undefined =>
  observationsFor('pulses').find(({ id }) => observed[id as ObservationId] === undefined);

describe('the data', () => {
  it('answers add up to one, and causes speak only of answers that are there', () => {
    for (const { id, answers } of observations as readonly Observation[])
      expect(
        Object.values(answers).reduce((sum, { usual }) => sum + usual, 0),
        id,
      ).toBeCloseTo(1, 9);
    for (const { id, shows } of causes)
      for (const [observation, shares] of Object.entries(shows)) {
        const { answers } = observations.find((each) => each.id === observation) as Observation;
        expect(Object.keys(answers), `${id} ${observation}`).toEqual(expect.arrayContaining(Object.keys(shares)));
        expect(
          Object.values(shares).reduce((a, b) => a + b, 0),
          `${id} ${observation}`,
        ).toBeLessThanOrEqual(1);
      }
    expect(new Set(causes.map(({ id }) => id)).size).toBe(causes.length);
  });

  it('names only findings that there are', () => {
    const folder = new URL('../findings/checks/', import.meta.url);
    const checks = readdirSync(folder)
      .map((name) => readFileSync(new URL(name, folder), 'utf8'))
      .join('');
    for (const { findings = [] } of causes) for (const id of findings) expect(checks).toContain(`'${id}'`);
  });

  it('likelihoods of an observation add up to one, but for what is never ruled out', () => {
    for (const cause of causes)
      for (const observation of observations as readonly Observation[]) {
        const answers = Object.keys(observation.answers);
        const whole = answers.reduce((sum, answer) => sum + likelihood(cause, observation, answer), 0);
        expect(whole).toBeGreaterThan(0.999);
        expect(whole).toBeLessThan(1 + 0.01 * answers.length);
      }
  });
});

describe('ranking', () => {
  it('follows Bayes’ rule: two causes by hand', () => {
    // Dark: 0.95 against the usual 0.02 for all others; the weights are 4, those of the rest, and 40 for what is not listed.
    const rest = causesFor('pulses').reduce((sum, { id, weight }) => (id === 'noSupply' ? sum : sum + weight), 0);
    const [first] = rankCauses({ power: 'dark' }, nothing, 'pulses');
    expect(first?.cause.id).toBe('noSupply');
    expect(first?.probability).toBeCloseTo((4 * 0.95) / (4 * 0.95 + (rest + 40) * 0.02), 9);
    expect(first?.for).toEqual(['power']);
    const probabilities = rankCauses({ power: 'dark' }, nothing, 'pulses').map(({ probability }) => probability);
    expect(probabilities.reduce((a, b) => a + b, 0)).toBeCloseTo(1 - (40 * 0.02) / (4 * 0.95 + (rest + 40) * 0.02), 12);
  });

  it('answers that are all fine speak against every cause: what is left is none of them', () => {
    const fine = Object.fromEntries(
      observationsFor('pulses').map(({ id, answers }) => [
        id,
        Object.entries(answers).reduce((a, b) => (b[1].usual > a[1].usual ? b : a))[0],
      ]),
    ) as Observed;
    const [before, after] = [rankCauses({}, nothing, 'pulses'), rankCauses(fine, nothing, 'pulses')];
    const share = (ranked: typeof before, id: string) => ranked.find(({ cause }) => cause.id === id)?.probability ?? 1;
    for (const { cause, against } of after)
      if (against.length > 0) expect(share(after, cause.id), cause.id).toBeLessThan(share(before, cause.id));
  });

  it('an answer nobody knows, or none at all, changes nothing', () => {
    expect(rankCauses({ power: 'purple' }, nothing, 'pulses')).toEqual(rankCauses({}, nothing, 'pulses'));
  });

  it('a finding of the plan puts its cause forward', () => {
    const rank = (found: ReadonlySet<string>) =>
      rankCauses({ back: 'creeps' }, found, 'pulses').findIndex(({ cause }) => cause.id === 'directionLate');
    expect(rank(new Set(['directionTooLate']))).toBe(0);
    expect(rankCauses({}, new Set(['formsDiffer']), 'pulses')[0]).toMatchObject({ isPlanned: true });
  });
});

describe('the search, in simulation', () => {
  it.each(causes.map((cause) => [cause.id, cause] as const))('%s is found from its own symptoms', (_, cause) => {
    const random = dice(4711);
    const tries = 20;
    let [first, among] = [0, 0];
    for (let k = 0; k < tries; k++) {
      const place = search(cause, random, best(cause.only ?? 'pulses')).ranked.findIndex(
        (each) => each.cause === cause,
      );
      if (place === 0) first++;
      if (place < 3) among++;
    }
    // Some look alike until one measures further; then the cause is among the first three.
    expect(among / tries).toBeGreaterThan(0.75);
    expect(first / tries).toBeGreaterThan(0.3);
  });

  it('needs fewer looks than going through the list', () => {
    const looks = (choose: (observed: Observed) => Observation | undefined) => {
      const random = dice(99);
      return causesFor('pulses').reduce(
        (sum, cause) =>
          sum + Array.from({ length: 5 }, () => search(cause, random, choose).steps).reduce((a, b) => a + b, 0),
        0,
      );
    };
    expect(looks(best('pulses'))).toBeLessThan(0.85 * looks(inOrder));
  });

  it('never sends anybody to look twice, and gains are no less than nothing', () => {
    const list = nextObservations({ power: 'lit', alarm: 'none' }, nothing, 'pulses');
    expect(list.map(({ observation }) => observation.id)).not.toContain('power');
    expect(list).toHaveLength(observationsFor('pulses').length - 2);
    expect(list.every(({ gain }, k) => gain >= 0 && gain <= (list[k - 1]?.gain ?? Infinity))).toBe(true);
  });
});
