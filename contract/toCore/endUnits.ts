import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import type { EndUnits } from '@kavrid/core/drive';
import { toNumber, type Exact } from '@kavrid/core/quantity';
import { all, map, valueOf, type Evaluation } from '@kavrid/core/sheet';

/** How an axis turns its own units into those of a drive or a controller. */
export const endUnits = (
  { axisUnit }: Pick<AxisInput, 'axisUnit'>,
  { feedbackResolution, commandResolution, travelPerTurn, transmissionRatio }: Evaluation<AxisValues>,
): EndUnits => ({
  axisUnit,
  perCount: valueOf(map(feedbackResolution, toNumber)),
  perPulse: valueOf(map(commandResolution, toNumber)),
  perMotorTurn: valueOf(
    map(all<[Exact, Exact]>(travelPerTurn, transmissionRatio), ([travel, ratio]) => toNumber(travel) / toNumber(ratio)),
  ),
});
