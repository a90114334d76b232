import { toNumber } from '../quantity/index.ts';
import { valueOf, type Evaluation } from '../sheet/index.ts';
import type { AxisValues } from './axisValues.ts';

/**
 * N along the travel, or N·m at the last shaft, that a torque limit comes to at the load, less the losses of the stages.
 * @param percent of rated motor torque
 */
export function pushingForce(results: Evaluation<AxisValues>, percent: number | null): number | undefined {
  const [train, rated, lever, ratio] = [
    valueOf(results.driveTrain),
    valueOf(results.ratedTorque),
    valueOf(results.metresPerRadian),
    valueOf(results.transmissionRatio),
  ];
  if (percent === null || !train || !rated || !lever || !ratio) return undefined;
  const efficiency = (train.stages ?? []).reduce((product, stage) => product * stage.efficiency, 1);
  const torque = (percent / 100) * rated * efficiency;
  return valueOf(results.motionKind) === 'linear' ? torque / lever : torque * toNumber(ratio);
}
