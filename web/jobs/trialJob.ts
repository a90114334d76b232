import { axisInputOf, inPositionWindow, moveChannels, type AxisDocument, type Trace } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { demandedMoves, traceFigures, type MoveChannels, type TraceFigures } from '@kavrid/core/motion';
import { readMove, trialHalves, type MoveReading } from '@kavrid/core/tuning';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';
import { stopsOf } from './stopsOf.ts';
import { thinTrace } from './thinTrace.ts';

/** A recording of a trial of gains, and the axis as it was then. */
export interface TrialWork {
  readonly axis: AxisDocument;
  readonly run: RunToFetch;
}

export interface TrialHalf {
  readonly reading: MoveReading | undefined;
  readonly figures: TraceFigures;
  /** s and axis units of following error, one point after the other */
  readonly error: Float64Array;
}

export interface TrialAnswer {
  /** Why there is nothing to compare. */
  readonly because?: string;
  readonly before?: TrialHalf;
  readonly after?: TrialHalf;
  /** s, of the longer half */
  readonly seconds: number;
}

const drawnPoints = 1200;

export const answerTrial = async ({ axis, run }: TrialWork): Promise<TrialAnswer> =>
  compareTrial(axis, await fetchTrace(run));

/** The moves with the planned gains beside those with the trial gains. */
export function compareTrial(axis: AxisDocument, trace: Trace): TrialAnswer {
  const halves = trialHalves(moveChannels(trace));
  if (!halves) return { because: 'the trial did not come to its end', seconds: 0 };
  const window = inPositionWindow(evaluateAxis(axisInputOf(axis).input));
  const half = (channels: MoveChannels): TrialHalf => ({
    reading: readMove(
      channels,
      stopsOf(channels, demandedMoves(channels.demandPosition, channels.period)),
      axis.settings.torqueLimit ?? undefined,
    ),
    figures: traceFigures(channels, window),
    error: thinTrace(channels.followingError, channels.period, drawnPoints),
  });
  const { before, after } = halves;
  return {
    before: half(before),
    after: half(after),
    seconds: Math.max(before.followingError.length, after.followingError.length) * before.period,
  };
}
