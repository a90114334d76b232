import {
  hostLoopOf,
  axisInputOf,
  inPositionWindow,
  measuredMechanics,
  type MeasuredMechanics,
  recordedChannels,
  runFigures,
  servoDefinition,
  startOfTrace,
  type AxisDocument,
  type Trace,
} from '@kavrid/contract';
import { evaluateAxis, hasGear, type AxisInput } from '@kavrid/core/chain';
import {
  demandedMoves,
  planMove,
  recognisedMove,
  stretchOf,
  traceFigures,
  type MoveChannels,
  type TraceFigures,
} from '@kavrid/core/motion';
import { runHostMoves, runMoves, thereAndBack, type TimedMove } from '@kavrid/core/plant';
import { divide, exact, toNumber } from '@kavrid/core/quantity';
import { map } from '@kavrid/core/sheet';
import { identifyInertia, readMove, type MoveReading } from '@kavrid/core/tuning';
import type { RunToFetch } from './fetchTrace.ts';
import { stopsOf } from './stopsOf.ts';
import { movedBy, thinTrace } from './thinTrace.ts';

/** A prediction alone, or a measurement with the prediction of the very moves it recorded. */
export interface MoveJobInput {
  readonly axis: AxisDocument;
  readonly measured: Trace | undefined;
  /** The run was made to its end; absent: it was. */
  readonly isWhole?: boolean | undefined;
  /** What was recorded is the test move; absent: it is. Of any other move the prediction is made from its recorded demand. */
  readonly isTestMove?: boolean | undefined;
}

/** The same with the trace still on the server, and what is drawn of it. Requests of one `key` differ in their view alone. */
export interface MoveRequest extends Pick<MoveJobInput, 'axis' | 'isWhole' | 'isTestMove'> {
  readonly key: number;
  readonly run: RunToFetch | undefined;
  readonly view: MoveView;
}

/** What part of the moves is drawn, with how many points a curve. */
export interface MoveView {
  readonly points: number;
  /** s; the whole when absent */
  readonly window?: readonly [number, number] | undefined;
}

export const shownChannels = ['actualPosition', 'actualSpeed', 'followingError', 'torque'] as const;
export type ShownChannel = (typeof shownChannels)[number];
/** Time and value of each point of a channel, one after the other. */
type Curves = Readonly<Record<ShownChannel, Float64Array>>;

interface MoveFacts {
  readonly predictedFigures?: TraceFigures;
  readonly measuredFigures?: TraceFigures;
  /** What each says of the loops; absent: it says nothing. */
  readonly predictedReading?: MoveReading | undefined;
  readonly measuredReading?: MoveReading | undefined;
  /** Inertia and friction as the measured moves tell them. */
  readonly mechanics?: MeasuredMechanics | undefined;
  /** Axis units within which the axis counts as in position. */
  readonly inPosition: number;
  readonly tripped: boolean;
  /** s of the first sample and the last, about the trigger */
  readonly whole: readonly [number, number];
  /** s, start and end of each demanded move */
  readonly moves: readonly (readonly [number, number])[];
  /** Why there is no prediction. */
  readonly because?: string;
}

/** Predicted and measured moves at full length, kept where they were worked out so that a zoom costs only its drawing. */
export interface PreparedMoves extends MoveFacts {
  readonly predicted?: MoveChannels;
  readonly measured?: MoveChannels;
}

export interface MoveJobResult extends MoveFacts {
  readonly predicted?: Curves;
  readonly measured?: Curves;
}

/** Predicts a test move with the plant and lays it beside what was measured. */
export function prepareMoves({ axis, measured, isWhole = true, isTestMove = true }: MoveJobInput): PreparedMoves {
  const { input } = axisInputOf(axis);
  const results = evaluateAxis(input);
  const inPosition = inPositionWindow(results);
  const channels = measured && recordedChannels(measured);
  const { before = 0 } = measured?.header ?? {};
  const start = measured ? startOfTrace(measured.header) : 0;
  const aboutTrigger = (from: number, to: number) => [from + start, to + start] as const;
  const moves = channels ? demandedMoves(channels.demandPosition, channels.period) : [];
  const first = Math.min(before, moves[0]?.from ?? before);
  const shared = {
    ...(channels
      ? {
          measured: channels,
          measuredFigures: runFigures(results, measured, isWhole),
          mechanics: mechanicsOf(axis, results, channels),
          measuredReading: readMove(channels, stopsOf(channels, moves), axis.settings.torqueLimit ?? undefined),
        }
      : {}),
    inPosition,
    moves: channels ? moves.map(({ from, to }) => aboutTrigger(from * channels.period, to * channels.period)) : [],
  };
  const prediction = predict(axis, input, results, channels, isTestMove, moves);
  if ('because' in prediction) {
    return {
      ...shared,
      tripped: false,
      whole: aboutTrigger(0, channels ? channels.period * channels.followingError.length : 0),
      because: prediction.because,
    };
  }
  const { recording, tripped } = prediction.result;
  return {
    ...shared,
    predicted: recording,
    predictedFigures: traceFigures(stretchOf(recording, first, Infinity), inPosition, !tripped),
    predictedReading: readMove(
      recording,
      stopsOf(recording, demandedMoves(recording.demandPosition, recording.period)),
      axis.settings.torqueLimit ?? undefined,
    ),
    tripped,
    whole: aboutTrigger(0, prediction.duration),
    moves: channels ? shared.moves : prediction.timed.map(({ at, move }) => [at, at + move.duration] as const),
  };
}

function mechanicsOf(axis: AxisDocument, results: ReturnType<typeof evaluateAxis>, channels: MoveChannels) {
  const found = identifyInertia(channels, axis.settings.torqueLimit ?? undefined);
  return found && measuredMechanics(axis, results, found);
}

/** Thins prepared moves for drawing. */
export function viewMoves({ predicted, measured, ...facts }: PreparedMoves, view: MoveView): MoveJobResult {
  const [start] = facts.whole;
  return {
    ...facts,
    ...(predicted ? { predicted: curvesOf(predicted, start, view) } : {}),
    ...(measured ? { measured: curvesOf(measured, start, view) } : {}),
  };
}

function curvesOf(channels: MoveChannels, start: number, { points, window }: MoveView): Curves {
  const stretch = window ? ([window[0] - start, window[1] - start] as const) : [];
  const curve = (name: ShownChannel) => movedBy(start, thinTrace(channels[name], channels.period, points, ...stretch));
  return {
    actualPosition: curve('actualPosition'),
    actualSpeed: curve('actualSpeed'),
    followingError: curve('followingError'),
    torque: curve('torque'),
  };
}

function predict(
  axis: AxisDocument,
  input: AxisInput,
  results: ReturnType<typeof evaluateAxis>,
  measured: MoveChannels | undefined,
  isTestMove: boolean,
  moves: ReturnType<typeof demandedMoves>,
) {
  const { from, distance, speed, acceleration, jerk, dwell, repeats } = axis.testMove;
  const recognised = measured && !isTestMove ? recognisedMoves(measured, moves) : undefined;
  if (recognised?.length === 0) return { because: 'no move from one rest to another was recorded' };
  if (recognised)
    return predictMoves(axis, input, results, recognised, measured?.demandPosition[0] ?? 0, lasting(measured));
  if (distance === null || speed === null || acceleration === null || dwell === null || repeats === null)
    return { because: 'the test move has not been entered' };
  const limits = { speed, acceleration, jerk: jerk ?? undefined };
  const back = planMove(-distance, limits);
  const there = planMove(distance, limits);
  const planned = thereAndBack(there, back, dwell, Math.min(repeats, 20));
  const last = planned.at(-1);
  // Each measured move is predicted from the moment at which it really began.
  const timed: readonly TimedMove[] = measured
    ? moves.map((each, k) => ({ at: each.from * measured.period, move: k % 2 === 0 ? there : back }))
    : planned;
  const duration = measured ? lasting(measured) : last ? last.at + last.move.duration + dwell : 0;
  return predictMoves(axis, input, results, timed, from ?? 0, duration);
}

/** s of a recording. */
const lasting = (channels: MoveChannels | undefined): number =>
  channels ? channels.period * Math.max(0, channels.followingError.length - 1) : 0;

/** The moves that a recorded demand consists of; none where one of them cannot be told. */
function recognisedMoves(
  { demandPosition, period }: MoveChannels,
  moves: ReturnType<typeof demandedMoves>,
): readonly TimedMove[] {
  const each = moves.flatMap((stretch): readonly TimedMove[] => {
    const move = recognisedMove(demandPosition, stretch, period);
    if (!move) return [];
    const { distance, speed, acceleration } = move;
    return [{ at: stretch.from * period, move: planMove(distance, { speed, acceleration, jerk: undefined }) }];
  });
  return each.length === moves.length ? each : [];
}

/** s of a recording that the plant is run for at most. */
const longestPredicted = 300;

/** Lets the plant make some moves. @param start axis units @param duration s */
function predictMoves(
  axis: AxisDocument,
  input: AxisInput,
  results: ReturnType<typeof evaluateAxis>,
  timed: readonly TimedMove[],
  start: number,
  duration: number,
) {
  if (duration > longestPredicted) return { because: 'it is longer than 5 minutes' };
  const servo = servoDefinition(axis, results);
  if (servo.state === 'unknown') return { because: servo.because };
  const host = hostLoopOf(input, results);
  if (host?.state === 'unknown') return { because: host.because };
  // Where no pulses command it, the drive makes the profile itself, in its counts.
  const stepsPerUnit = hasGear(input.command)
    ? results.stepsPerUnit
    : map(results.feedbackResolution, (resolution) => divide(exact(1), resolution));
  if (stepsPerUnit.state === 'unknown') return { because: stepsPerUnit.because };
  if (results.feedbackResolution.state === 'unknown') return { because: results.feedbackResolution.because };
  try {
    const order = {
      servo: servo.value,
      moves: timed,
      duration,
      start,
      unitsPerCount: toNumber(results.feedbackResolution.value),
      recordPeriod: 0.001,
    };
    const result = host
      ? runHostMoves(order, host.value)
      : runMoves({ ...order, stepsPerUnit: toNumber(stepsPerUnit.value), pulses: false });
    return { result, duration, timed };
  } catch (error) {
    return { because: error instanceof Error ? error.message : String(error) };
  }
}
