import { fetchTrace } from './fetchTrace.ts';
import { prepareMoves, viewMoves, type MoveRequest, type PreparedMoves } from './moveJob.ts';
import { serveJob } from './serveJob.ts';

/** The moves prepared last: another view of them costs only its drawing. */
let kept: { readonly key: number; readonly prepared: PreparedMoves } | undefined;

serveJob(async ({ key, axis, run, isWhole, isTestMove, view }: MoveRequest) => {
  if (kept?.key !== key) {
    const measured = run && (await fetchTrace(run));
    kept = { key, prepared: prepareMoves({ axis, measured, isWhole, isTestMove }) };
  }
  return viewMoves(kept.prepared, view);
});
