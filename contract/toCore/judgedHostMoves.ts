import { commandsOneWay, evaluateAxis, hasGear } from '@kavrid/core/chain';
import {
  factorsOf,
  judgeHostMoves,
  judgePicks,
  judgeSignalEnds,
  type HostVerdict,
  type JudgedPick,
  type SignalEnds,
  type WantedPick,
} from '@kavrid/core/measure';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { channelValues, choicePattern, type Trace } from '../trace/index.ts';
import { axisInputOf, axisUnitOf } from './axisInputOf.ts';
import { inPositionWindow, recordedChannels } from './runFigures.ts';
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
    recordedChannels(trace),
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

/**
 * A speed command at both ends and zero, by the speed of the moves by the controller, else by its full command. undefined: nothing commands
 * a speed here, or the speed is not known
 */
export function judgedSignalEnds(axis: AxisDocument, trace: Trace): SignalEnds | undefined {
  const { input } = axisInputOf(axis);
  if (!('meaning' in input.command) || input.command.meaning !== 'speed') return undefined;
  const results = evaluateAxis(input);
  const wanted = axis.moves.host.speed ?? valueOf(results.fullCommandSpeed);
  const { actualSpeed, period } = recordedChannels(trace);
  if (!wanted || actualSpeed.length === 0) return undefined;
  return judgeSignalEnds(actualSpeed, period, wanted, {
    unit: axisUnitOf(axis),
    factors: factorsOf(stageRatiosOf(input)),
    isOneWay: commandsOneWay(input.command, results) === true,
  });
}

/** Stored moves to positions, in the order of their list. */
export const wantedPicks = ({ command }: AxisDocument): readonly WantedPick[] =>
  command.kind !== 'choice'
    ? []
    : command.moves.flatMap(({ kind, pattern, target }) =>
        kind === 'position' && target !== null ? [{ pattern, target }] : [],
      );

/** What each pick did; undefined: no inputs pick moves to positions here. */
export function judgedPicks(axis: AxisDocument, trace: Trace): readonly JudgedPick[] | undefined {
  const picks = wantedPicks(axis);
  if (picks.length === 0) return undefined;
  return judgePicks(recordedChannels(trace), picks, pickTolerance(axis), channelValues(trace, choicePattern.id));
}

/** Axis units within which a picked target counts as reached: the widest window of the moves, else that of the axis. */
function pickTolerance(axis: AxisDocument): number {
  const windows = axis.command.kind === 'choice' ? axis.command.moves.flatMap(({ window }) => window ?? []) : [];
  return Math.max(inPositionWindow(evaluateAxis(axisInputOf(axis).input)), ...windows);
}
