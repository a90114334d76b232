import { judgedHostMoves, judgedPicks, judgedSignalEnds, type AxisDocument } from '@kavrid/contract';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';

/** A recording of the controller's moves, with the settings that it was made with. */
export interface HostMovesWork {
  readonly axis: AxisDocument;
  readonly run: RunToFetch;
}
export interface HostMovesAnswer {
  readonly moves: ReturnType<typeof judgedHostMoves>;
  readonly ends: ReturnType<typeof judgedSignalEnds>;
  readonly picks: ReturnType<typeof judgedPicks>;
}

export async function answerHostMoves({ axis, run }: HostMovesWork): Promise<HostMovesAnswer> {
  const trace = await fetchTrace(run);
  return { moves: judgedHostMoves(axis, trace), ends: judgedSignalEnds(axis, trace), picks: judgedPicks(axis, trace) };
}
