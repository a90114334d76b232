import { evaluateAxis, hasGear } from '@kavrid/core/chain';
import { factorsOf, judgeHostMoves, type HostVerdict } from '@kavrid/core/measure';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import type { Trace } from '../trace/index.ts';
import { axisInputOf, axisUnitOf } from './axisInputOf.ts';
import { inPositionWindow, moveChannels } from './runFigures.ts';
import { stageRatiosOf } from './stageRatiosOf.ts';

/** Steps of the command that a position may be off: rounding at both ends. */
const roundedSteps = 1.5;

/** What a recording of the controller's moves shows, by the moves as they were planned. @returns why it cannot be judged */
export function judgedHostMoves(axis: AxisDocument, trace: Trace): HostVerdict | { readonly because: string } {
  const { distance, speed, repeats } = axis.moves.host;
  if (distance === null || repeats === null)
    return { because: 'the distance and repeats of the moves by the controller have not been entered' };
  const { input } = axisInputOf(axis);
  const results = evaluateAxis(input);
  const steps = hasGear(input.command) ? valueOf(results.stepsPerUnit) : undefined;
  const pulsesPerUnit = steps && toNumber(steps);
  return judgeHostMoves(
    moveChannels(trace),
    { distance, speed, repeats },
    {
      unit: axisUnitOf(axis),
      pulsesPerUnit,
      highestRate: axis.controller.maximumPulseRate,
      resolution: pulsesPerUnit === undefined ? inPositionWindow(results) : roundedSteps / pulsesPerUnit,
      factors: factorsOf(stageRatiosOf(input)),
    },
  );
}
