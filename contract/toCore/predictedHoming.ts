import type { AxisValues } from '@kavrid/core/chain';
import { longestHoming, type HomingPrediction } from '@kavrid/core/homing';
import { known, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { homingModel } from './homingModel.ts';

export interface PredictedHoming {
  readonly longest: HomingPrediction;
  /** Axis units between two index pulses. */
  readonly indexSpacing: number;
  /** The position gain is not planned: the axis is taken to follow its command without error. */
  readonly isWithoutLag: boolean;
}

/**
 * The longest homing of an axis between its limits, the minus limit at 0 and the plus limit at the end of the travel, in axis
 * units; unknown when a value for it is missing or nothing moves.
 */
export function predictedHoming(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<PredictedHoming> {
  const model = homingModel(axis, results);
  if (model.state === 'unknown') return model;
  const { definition, world, isWithoutLag } = model.value;
  return known({ longest: longestHoming(definition, world), indexSpacing: world.indexSpacing, isWithoutLag });
}

/** s after which a homing has gone wrong: a fifth above the longest, as is common practice. */
export function homingTimeOut(axis: AxisDocument, results: Evaluation<AxisValues>): number | undefined {
  const longest = valueOf(predictedHoming(axis, results))?.longest;
  return longest && longest.because === undefined ? Math.ceil(1.2 * longest.seconds) : undefined;
}
