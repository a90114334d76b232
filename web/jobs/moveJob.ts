import { readAxis, servoDefinition, type AxisDocument, type Trace } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { demandedMoves, planMove, traceFigures, type MoveChannels, type TraceFigures } from '@kavrid/core/motion';
import { runMoves, thereAndBack, type TimedMove } from '@kavrid/core/plant';
import { toNumber } from '@kavrid/core/quantity';
import { thinTrace, type CurvePoint } from './thinTrace.ts';

/** A prediction alone, or a measurement with the prediction of the very moves it recorded. */
export interface MoveJobInput {
  readonly axis: AxisDocument;
  readonly measured: Trace | undefined;
  readonly points: number;
  /** s; the whole when absent */
  readonly window?: readonly [number, number] | undefined;
}

export const shownChannels = ['actualPosition', 'actualSpeed', 'followingError', 'torque'] as const;
export type ShownChannel = (typeof shownChannels)[number];

export interface MoveJobResult {
  readonly predicted?: Readonly<Record<ShownChannel, readonly CurvePoint[]>>;
  readonly measured?: Readonly<Record<ShownChannel, readonly CurvePoint[]>>;
  readonly predictedFigures?: TraceFigures;
  readonly measuredFigures?: TraceFigures;
  readonly tripped: boolean;
  readonly duration: number;
  /** s, start and end of each demanded move */
  readonly moves: readonly (readonly [number, number])[];
  /** Why there is no prediction. */
  readonly because?: string;
}

/** The in-position window by which settling is judged: ten command steps. */
const windowSteps = 10;

/** Predicts a test move with the plant, lays it beside what was measured, and thins both for drawing. */
export function runMoveJob({ axis, measured, points, window }: MoveJobInput): MoveJobResult {
  const thinned = (channels: MoveChannels): Record<ShownChannel, readonly CurvePoint[]> => {
    const curve = (name: ShownChannel) => thinTrace(channels[name], channels.period, points, ...(window ?? []));
    return {
      actualPosition: curve('actualPosition'),
      actualSpeed: curve('actualSpeed'),
      followingError: curve('followingError'),
      torque: curve('torque'),
    };
  };
  const results = evaluateAxis(readAxis(axis).input);
  const resolution = results.commandResolution.state === 'known' ? toNumber(results.commandResolution.value) : 0.01;
  const measuredChannels: MoveChannels | undefined = measured && { period: measured.period, ...measured.channels };
  const moves = measuredChannels ? demandedMoves(measuredChannels.demandPosition, measuredChannels.period) : [];
  const shared = {
    ...(measuredChannels
      ? {
          measured: thinned(measuredChannels),
          measuredFigures: traceFigures(measuredChannels, windowSteps * resolution),
        }
      : {}),
    moves: moves.map(({ from, to }) => [from * (measured?.period ?? 0), to * (measured?.period ?? 0)] as const),
  };
  const prediction = predict(axis, results, measuredChannels, moves);
  if ('because' in prediction) {
    return {
      ...shared,
      tripped: false,
      duration: (measuredChannels?.period ?? 0) * (measuredChannels?.followingError.length ?? 0),
      because: prediction.because,
    };
  }
  const { recording, tripped } = prediction.result;
  return {
    ...shared,
    predicted: thinned(recording),
    predictedFigures: traceFigures(recording, windowSteps * resolution),
    tripped,
    duration: prediction.duration,
    moves: measuredChannels ? shared.moves : prediction.timed.map(({ at, move }) => [at, at + move.duration] as const),
  };
}

function predict(
  axis: AxisDocument,
  results: ReturnType<typeof evaluateAxis>,
  measured: MoveChannels | undefined,
  moves: ReturnType<typeof demandedMoves>,
) {
  const { from, distance, speed, acceleration, jerk, dwell, repeats } = axis.testMove;
  if (distance === null || speed === null || acceleration === null || dwell === null || repeats === null)
    return { because: 'the test move is not filled in' };
  const servo = servoDefinition(axis, results);
  if (servo.state === 'unknown') return { because: servo.because };
  if (results.stepsPerUnit.state === 'unknown') return { because: results.stepsPerUnit.because };
  if (results.feedbackResolution.state === 'unknown') return { because: results.feedbackResolution.because };
  const limits = { speed, acceleration, jerk: jerk ?? undefined };
  const back = planMove(-distance, limits);
  const there = planMove(distance, limits);
  const planned = thereAndBack(there, back, dwell, Math.min(repeats, 20));
  const last = planned.at(-1);
  // Each measured move is predicted from the moment at which it really began.
  const timed: readonly TimedMove[] = measured
    ? moves.map((each, k) => ({ at: each.from * measured.period, move: k % 2 === 0 ? there : back }))
    : planned;
  const duration = measured
    ? measured.period * Math.max(0, measured.followingError.length - 1)
    : last
      ? last.at + last.move.duration + dwell
      : 0;
  try {
    const result = runMoves({
      servo: servo.value,
      moves: timed,
      duration,
      start: from ?? 0,
      stepsPerUnit: toNumber(results.stepsPerUnit.value),
      unitsPerCount: toNumber(results.feedbackResolution.value),
      pulses: false,
      recordPeriod: 0.001,
    });
    return { result, duration, timed };
  } catch (error) {
    return { because: error instanceof Error ? error.message : String(error) };
  }
}
