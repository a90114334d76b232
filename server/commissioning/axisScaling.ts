import { readAxis, type AxisDocument } from '@kavrid/contract';
import { countsSign, evaluateAxis, stationsOf, type AxisValues } from '@kavrid/core/chain';
import { divide, multiply, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, map, type Evaluation } from '@kavrid/core/sheet';

/** How a drive's numbers become the axis', with the direction of the mechanics in their sign. */
export interface AxisScaling {
  readonly results: Evaluation<AxisValues>;
  readonly unitsPerCount: number;
  readonly incrementsPerUnit: number;
  /** +1 or −1: counts that go up move the load to plus or to minus. */
  readonly sign: 1 | -1;
}

/** @returns the reason when the scaling of the axis is not known. */
export function axisScaling(axis: AxisDocument): AxisScaling | { readonly because: string } {
  const { input } = readAxis(axis);
  const results = evaluateAxis(input);
  const { feedbackResolution } = results;
  // A drive that no pulses command still counts its own ramps in increments of its gear.
  const stepsPerUnit =
    input.command.kind === 'pulses'
      ? results.stepsPerUnit
      : map(
          all<[Exact, Exact, Exact]>(feedbackResolution, input.gearNumerator, input.gearDenominator),
          ([resolution, numerator, denominator]) => divide(denominator, multiply(resolution, numerator)),
        );
  if (feedbackResolution.state === 'unknown') return { because: feedbackResolution.because };
  if (stepsPerUnit.state === 'unknown') return { because: stepsPerUnit.because };
  const sign = countsSign(stationsOf(input, results));
  return {
    results,
    sign,
    unitsPerCount: sign * toNumber(feedbackResolution.value),
    incrementsPerUnit: sign * toNumber(stepsPerUnit.value),
  };
}
