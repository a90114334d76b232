import type { AxisValues } from '@kavrid/core/chain';
import { homingMethodFacts, longestHoming, type HomingPrediction } from '@kavrid/core/homing';
import { toNumber } from '@kavrid/core/quantity';
import { known, unknown, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';

export interface PredictedHoming {
  readonly longest: HomingPrediction;
  /** Axis units between two index pulses. */
  readonly indexSpacing: number;
  /** The position gain is not planned: the axis is taken to follow its command without error. */
  readonly isWithoutLag: boolean;
}

/** A common period of drives and controllers, s; an assumption where the device's own is not known. */
const scanPeriod = 0.001;

/**
 * The longest homing of an axis between its limits, the minus limit at 0 and the plus limit at the end of the travel, in axis
 * units; unknown when a value for it is missing or nothing moves.
 */
export function predictedHoming(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<PredictedHoming> {
  const { method, searchSpeed, creepSpeed, acceleration, homeOffset, homeSwitchFrom, homeSwitchLength } = axis.homing;
  const facts = homingMethodFacts(method);
  if (facts.homesOn === 'none') return unknown('this method involves no motion', '/homing/method');
  if (!searchSpeed) return unknown('the homing search speed has not been entered', '/homing/searchSpeed');
  if (!creepSpeed) return unknown('the homing creep speed has not been entered', '/homing/creepSpeed');
  if (!acceleration) return unknown('the homing acceleration has not been entered', '/homing/acceleration');
  const needsHomeSwitch = facts.homesOn === 'homeSwitch';
  if (needsHomeSwitch && homeSwitchFrom === null)
    return unknown('the position of the home switch has not been entered', '/homing/homeSwitchFrom');
  if (needsHomeSwitch && !homeSwitchLength)
    return unknown('the length of the home switch has not been entered', '/homing/homeSwitchLength');
  const travel = valueOf(results.travel);
  const turn = valueOf(results.travelPerTurn);
  const ratio = valueOf(results.transmissionRatio);
  if (!travel) return unknown('the travel is not known', '/motion/travel');
  if (!turn || !ratio) return unknown('the travel per motor turn is not known', '/stages');
  const indexSpacing = toNumber(turn) / toNumber(ratio);
  const lag = followingTime(axis, results);
  const longest = longestHoming(
    { method, searchSpeed, creepSpeed, acceleration, homeOffset: homeOffset ?? 0 },
    {
      minusEdge: 0,
      plusEdge: toNumber(travel),
      ...(needsHomeSwitch && homeSwitchFrom !== null && homeSwitchLength
        ? { homeSwitch: { from: homeSwitchFrom, to: homeSwitchFrom + homeSwitchLength } }
        : {}),
      indexSpacing,
      scanPeriod,
      lag: lag ?? 0,
    },
  );
  return known({ longest, indexSpacing, isWithoutLag: lag === undefined });
}

/** s after which a homing has gone wrong: a fifth above the longest, as is common practice. */
export function homingTimeOut(axis: AxisDocument, results: Evaluation<AxisValues>): number | undefined {
  const longest = valueOf(predictedHoming(axis, results))?.longest;
  return longest && longest.because === undefined ? Math.ceil(1.2 * longest.seconds) : undefined;
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
