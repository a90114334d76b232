import type { AxisValues } from '@kavrid/core/chain';
import { demandedMoves, stretchOf, traceFigures, type MoveChannels, type TraceFigures } from '@kavrid/core/motion';
import { toNumber } from '@kavrid/core/quantity';
import type { Evaluation } from '@kavrid/core/sheet';
import { channelValues, type AxisChannel, type Trace } from '../trace/index.ts';

/** The in-position window by which settling is judged: ten command steps. */
const windowSteps = 10;
/** Axis units of a step where the resolution is not known. */
const someStep = 0.01;

/** Axis units within which the axis counts as in position. */
export const inPositionWindow = ({ commandResolution }: Evaluation<AxisValues>): number =>
  windowSteps * (commandResolution.state === 'known' ? toNumber(commandResolution.value) : someStep);

/**
 * The channels of recorded moves from the trigger on, or from the first demanded move where a trigger came later; one that the device did not
 * record, and that the others do not give, is empty.
 */
export function moveChannels(trace: Trace): MoveChannels {
  const { before = 0, count } = trace.header;
  const recorded = recordedChannels(trace);
  if (before === 0) return recorded;
  const [first] = demandedMoves(recorded.demandPosition, recorded.period);
  return stretchOf(recorded, Math.min(before, first?.from ?? before), count);
}

/** The same with all that was recorded before. */
export function recordedChannels(trace: Trace): MoveChannels {
  const values = (id: AxisChannel) => channelValues(trace, id) ?? new Float64Array();
  const [demand, actual, error] = [values('demandPosition'), values('actualPosition'), values('followingError')];
  /** What was not recorded follows from the other two: error = demand − actual. */
  const orElse = (plane: Float64Array, from: Float64Array, by: Float64Array, sense: 1 | -1) =>
    plane.length > 0 || from.length === 0 ? plane : from.map((each, k) => each + sense * (by[k] ?? NaN));
  return {
    period: trace.header.period,
    demandPosition: orElse(demand, actual, error, 1),
    actualPosition: orElse(actual, demand, error, -1),
    actualSpeed: values('actualSpeed'),
    followingError: orElse(error, demand, actual, -1),
    torque: values('torque'),
  };
}

/** What a recorded test move shows. @param isWhole it was made to its end */
export const runFigures = (results: Evaluation<AxisValues>, trace: Trace, isWhole: boolean): TraceFigures =>
  traceFigures(moveChannels(trace), inPositionWindow(results), isWhole);
