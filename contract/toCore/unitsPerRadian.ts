import type { AxisValues } from '@kavrid/core/chain';
import { multiply, toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';

/** Axis units that the load goes for a radian of the motor, by the feedback; undefined where the chain is not known. */
export function unitsPerRadian(results: Evaluation<AxisValues>): number | undefined {
  const [counts, resolution] = [valueOf(results.countsPerRevolution), valueOf(results.feedbackResolution)];
  return counts && resolution && toNumber(multiply(counts, resolution)) / (2 * Math.PI);
}
