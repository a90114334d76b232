import { judgedHostMoves, type AxisDocument } from '@kavrid/contract';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';

/** A recording of the controller's moves, with the settings that it was made with. */
export interface HostMovesWork {
  readonly axis: AxisDocument;
  readonly run: RunToFetch;
}
export type HostMovesAnswer = ReturnType<typeof judgedHostMoves>;

export const answerHostMoves = async ({ axis, run }: HostMovesWork): Promise<HostMovesAnswer> =>
  judgedHostMoves(axis, await fetchTrace(run));
