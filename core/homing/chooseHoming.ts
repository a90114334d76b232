import { homingMethodFacts, homingMethods, type HomeRange, type HomingMethod } from './homingMethod.ts';
import type { HomingPrediction } from './predictHoming.ts';

/** What an axis has to home on. */
export interface HomingMeans {
  readonly hasLimits: boolean;
  readonly homeSwitch: HomeRange | 'none';
  readonly hasIndex: boolean;
  readonly hasMinusStop: boolean;
  readonly hasPlusStop: boolean;
  /** The encoder keeps its position without power: home has to be set once. */
  readonly hasAbsolute: boolean;
  /** A load that falls towards minus when the motor lets go. */
  readonly isSuspended: boolean;
  readonly isEndless: boolean;
  /** Motor turns over the travel: an index pulse alone tells home only within one. */
  readonly turnsOverTravel: number;
  /** The methods that the one who homes has; undefined: not known. */
  readonly known: readonly HomingMethod[] | undefined;
}

export const homingPriorities = ['repeatability', 'time', 'room'] as const;
export type HomingPriority = (typeof homingPriorities)[number];

/** A method that fits, why, and what it costs. */
export interface HomingChoice {
  readonly method: HomingMethod;
  readonly prediction: HomingPrediction;
  /** How far home scatters, in the unit of the positions. */
  readonly scatter: number;
  readonly why: readonly string[];
  readonly costs: readonly string[];
}

/** Most that are offered at once. */
const most = 3;

/** Why a method cannot be used with what there is; undefined: it can. */
export function unfitBecause(method: HomingMethod, means: HomingMeans): string | undefined {
  const facts = homingMethodFacts(method);
  if (means.known && !means.known.includes(method)) return 'it is not among the methods of this drive or controller';
  if (facts.usesIndex && !means.hasIndex) return 'there is no index pulse';
  switch (facts.kind) {
    case 'here':
      return undefined;
    case 'index':
      return means.turnsOverTravel > 1 ? 'an index pulse comes more than once over the travel' : undefined;
    case 'hard stop':
      if (means.isEndless) return 'an endless axis has no hard stop';
      return (facts.search < 0 ? means.hasMinusStop : means.hasPlusStop)
        ? undefined
        : 'there is no hard stop at this end';
    case 'edge':
      if (facts.input !== 'homeSwitch') {
        if (means.isEndless) return 'an endless axis has no limit switches';
        return means.hasLimits ? undefined : 'there are no limit switches';
      }
      if (means.homeSwitch !== facts.range) return 'there is no such home switch';
      return facts.range === 'flag' || !means.isEndless ? undefined : 'an endless axis has no ends';
  }
}

/** What speaks for a method, and what it costs, in words. */
function reasonsOf(
  method: HomingMethod,
  means: HomingMeans,
): Pick<HomingChoice, 'why' | 'costs'> & { readonly penalty: number } {
  const facts = homingMethodFacts(method);
  const why: string[] = [];
  const costs: string[] = [];
  let penalty = 0;
  if (facts.usesIndex) why.push('repeats to a few counts by the index pulse');
  else if (facts.kind === 'edge') costs.push('repeats only as well as the switch does');
  switch (facts.kind) {
    case 'edge':
      if (facts.input !== 'homeSwitch') costs.push('strikes a limit switch at every homing');
      else if (facts.range === 'flag') {
        why.push('home lies within the travel');
        costs.push('from one side the search goes to a limit first');
      } else why.push('the switch tells the side: no limit is struck');
      break;
    case 'hard stop':
      why.push('needs no switch');
      costs.push('presses the mechanics at every homing', 'friction and torque shift it');
      penalty += 2;
      break;
    case 'index':
      why.push('no switch, little motion');
      break;
    case 'here':
      why.push('nothing moves');
      if (means.hasAbsolute) {
        why.push('the absolute encoder keeps home: it is set once, at a mark');
        costs.push('to be set again after a change of motor, gear or sense, or a flat battery');
      } else {
        costs.push('repeats as well as somebody sets the axis');
        penalty += 4;
      }
  }
  if (means.isSuspended && 'search' in facts && facts.search < 0) {
    costs.push('searches downwards, with the load');
    penalty += 2;
  }
  return { why, costs, penalty };
}

/**
 * The two or three methods that fit best. @param predict the longest homing by a method; undefined where it cannot be predicted
 * @param scatterOf how far home scatters by a method
 */
export function chooseHoming(
  means: HomingMeans,
  priority: HomingPriority,
  predict: (method: HomingMethod) => HomingPrediction | undefined,
  scatterOf: (method: HomingMethod) => number,
): readonly HomingChoice[] {
  const fits = homingMethods.flatMap((method) => {
    if (unfitBecause(method, means) !== undefined) return [];
    const prediction = predict(method);
    if (!prediction || prediction.because !== undefined) return [];
    const { penalty, ...reasons } = reasonsOf(method, means);
    return [{ method, prediction, scatter: scatterOf(method), ...reasons, penalty }];
  });
  const worst = (of: (each: (typeof fits)[number]) => number) => Math.max(1e-12, ...fits.map(of));
  const [scatter, seconds, room] = [
    worst((each) => each.scatter),
    worst(({ prediction }) => prediction.seconds),
    worst(({ prediction }) => prediction.overrun),
  ];
  const weights = { repeatability: [8, 1, 1], time: [1, 8, 1], room: [1, 1, 8] } as const;
  const [a, b, c] = weights[priority];
  const cost = ({ scatter: s, prediction, penalty }: (typeof fits)[number]) =>
    (a * s) / scatter + (b * prediction.seconds) / seconds + (c * prediction.overrun) / room + penalty;
  const families = new Set<string>();
  return [...fits]
    .sort((x, y) => cost(x) - cost(y))
    .filter(({ method }) => {
      // One of each kind: mirrored methods differ by nothing that is asked for.
      const facts = homingMethodFacts(method);
      const family = `${facts.kind} ${facts.kind === 'edge' && facts.input === 'homeSwitch'} ${facts.usesIndex}`;
      if (families.has(family)) return false;
      families.add(family);
      return true;
    })
    .slice(0, most)
    .map(({ penalty: _, ...choice }) => choice);
}
