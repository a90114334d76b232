import type { AxisValues } from '@kavrid/core/chain';
import {
  homingMethodFacts,
  type HomingDefinition,
  type HomingMethodFacts,
  type HomingWorld,
} from '@kavrid/core/homing';
import { toNumber } from '@kavrid/core/quantity';
import { known, unknown, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';

/** Homing as planned, in axis units, with the minus limit at 0. */
export interface HomingModel {
  readonly definition: HomingDefinition;
  readonly world: Omit<HomingWorld, 'start' | 'indexAt'>;
  /** Where an index pulse comes; undefined: not entered. */
  readonly indexAt: number | undefined;
  /** Axis units of the travel; of an endless axis once round. */
  readonly travel: number;
  readonly isEndless: boolean;
  /** Standard deviation of the switch edge; undefined: not entered. */
  readonly switchScatter: number | undefined;
  /** How far that edge wanders to either side with temperature. */
  readonly switchDrift: number;
  /** The position gain is not planned: the axis is taken to follow its command without error. */
  readonly isWithoutLag: boolean;
  /** The period of the looks at the inputs is an assumption. */
  readonly isScanAssumed: boolean;
}

/** A common period of drives and controllers, s; an assumption where the device's own is not known. */
const usualScan = 0.001;
/** s in which a drive recognises a hard stop; common practice. */
const usualBlockTime = 0.05;

type Homing = AxisDocument['homing'];

/** Why a homing cannot be modelled. */
function missing(homing: Homing, facts: HomingMethodFacts): Outcome<never> | undefined {
  const { searchSpeed, creepSpeed, acceleration, homeSwitchFrom, homeSwitchLength } = homing;
  if (facts.kind === 'here') return unknown('this method involves no motion', '/homing/method');
  if (facts.kind !== 'index' && !searchSpeed)
    return unknown('the homing search speed has not been entered', '/homing/searchSpeed');
  if (!creepSpeed) return unknown('the homing creep speed has not been entered', '/homing/creepSpeed');
  if (!acceleration) return unknown('the homing acceleration has not been entered', '/homing/acceleration');
  if (facts.kind === 'hard stop') {
    const stop = facts.search < 0 ? 'minusStop' : 'plusStop';
    return homing[stop] === null
      ? unknown('the position of the hard stop has not been entered', `/homing/${stop}`)
      : undefined;
  }
  if (facts.kind !== 'edge' || facts.input !== 'homeSwitch') return undefined;
  if (homeSwitchFrom === null)
    return unknown('the position of the home switch has not been entered', '/homing/homeSwitchFrom');
  return facts.range === 'flag' && !homeSwitchLength
    ? unknown('the length of the home switch has not been entered', '/homing/homeSwitchLength')
    : undefined;
}

/** The home switch in the world; a long one is on from its edge up to an end. */
function homeSwitchOf(
  { homeSwitchFrom, homeSwitchLength, secondFlagFrom }: Homing,
  facts: HomingMethodFacts,
  every: number | undefined,
): Pick<HomingWorld, 'homeSwitch'> {
  if (facts.kind !== 'edge' || facts.input !== 'homeSwitch' || homeSwitchFrom === null) return {};
  switch (facts.range) {
    case 'flag':
      return {
        homeSwitch: {
          from: homeSwitchFrom,
          to: homeSwitchFrom + (homeSwitchLength ?? 0),
          ...(every === undefined ? {} : { every }),
          ...(secondFlagFrom === null ? {} : { secondFrom: secondFlagFrom }),
        },
      };
    case 'to the plus end':
      return { homeSwitch: { from: homeSwitchFrom, to: Infinity } };
    case 'to the minus end':
      return { homeSwitch: { from: -Infinity, to: homeSwitchFrom } };
  }
}

/** What a homing is predicted from; unknown when a value for it is missing or nothing moves. */
export function homingModel(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<HomingModel> {
  const { homing, motion } = axis;
  const facts = homingMethodFacts(homing.method);
  const because = missing(homing, facts);
  if (because) return because;
  const travel = valueOf(results.travel);
  const turn = valueOf(results.travelPerTurn);
  const ratio = valueOf(results.transmissionRatio);
  if (!travel) return unknown('the travel is not known', '/motion/travel');
  if (!turn || !ratio) return unknown('the travel per motor turn is not known', '/stages');
  const isEndless = motion.kind !== 'linear' && 'endless' in motion && motion.endless;
  const lag = followingTime(axis, results);
  const length = toNumber(travel);
  const { minusStop, plusStop, hysteresis, debounce, scanPeriod, mostTravel, switchScatter, switchDrift, jerk } =
    homing;
  return known({
    definition: {
      method: homing.method,
      searchSpeed: homing.searchSpeed ?? homing.creepSpeed ?? 0,
      creepSpeed: homing.creepSpeed ?? 0,
      acceleration: homing.acceleration ?? 0,
      positionAtHome: homing.positionAtHome ?? 0,
      indexPulse: homing.indexPulse ?? 1,
      ...(mostTravel === null ? {} : { mostTravel }),
    },
    world: {
      ...(isEndless ? {} : { minusEdge: 0, plusEdge: length }),
      ...homeSwitchOf(homing, facts, isEndless ? length : undefined),
      ...(minusStop === null || isEndless ? {} : { minusStop }),
      ...(plusStop === null || isEndless ? {} : { plusStop }),
      indexSpacing: toNumber(turn) / toNumber(ratio),
      scanPeriod: scanPeriod ?? usualScan,
      debounce: debounce ?? 0,
      hysteresis: hysteresis ?? 0,
      lag: lag ?? 0,
      blockTime: usualBlockTime,
      ...(jerk === null ? {} : { jerk }),
    },
    indexAt: homing.indexAt ?? undefined,
    travel: length,
    isEndless,
    switchScatter: switchScatter ?? undefined,
    switchDrift: switchDrift ?? 0,
    isWithoutLag: lag === undefined,
    isScanAssumed: scanPeriod === null,
  });
}

/** s by which the axis is behind its command at steady speed: (1 − feedforward)/gain of the end that closes the position loop. */
function followingTime(axis: AxisDocument, results: Evaluation<AxisValues>): number | undefined {
  const { positionGain, velocityFeedforward } = axis.settings;
  if (results.sheet.state === 'known' && results.sheet.value === 'scaled') {
    const hostGain = valueOf(results.hostGain);
    return hostGain ? 1 / hostGain : undefined;
  }
  return positionGain ? (1 - Math.min(100, velocityFeedforward ?? 0) / 100) / positionGain : undefined;
}
