import {
  acceptanceChanges,
  acceptanceDigest,
  axisInputOf,
  homingDigest,
  isAxis,
  runFigures,
  type AcceptanceReport,
  type AxisDocument,
  type MeasuredEvidence,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { judgeAcceptance, verdictOf, type Evidence, type Measured } from '@kavrid/core/evidence';
import { positioningOf, scatterOf } from '@kavrid/core/homing';
import type { Store } from '../database/store.ts';

const otherDevice = 'it was made with another device than the test move';
const planChanged = 'its plan has changed since';

/** An axis judged by its newest test move, homing series and positions. */
export async function acceptanceReport(
  store: Store,
  id: string,
  { version, document }: { readonly version: number; readonly document: AxisDocument },
): Promise<AcceptanceReport> {
  const move = await newestMove(store, id, document);
  const kept = await store.evidence.measured(id);
  const identity = move?.identity ?? '';
  const rows = judgeAcceptance(document.acceptance, {
    'test move': move?.measured,
    'homing series': homingOf(kept, document, identity),
    positioning: positioningFigures(kept, document, identity),
  });
  return { version, verdict: verdictOf(rows), rows, identity, ...(move ? { run: move.run } : {}) };
}

/** What is kept of a report. */
export const acceptanceEvidence = (
  { version, verdict, rows, identity, run }: AcceptanceReport,
  document: AxisDocument,
): Evidence<'acceptance'> => ({
  kind: 'acceptance',
  madeAt: new Date().toISOString(),
  revision: version,
  identity,
  digest: acceptanceDigest(document),
  payload: { verdict, rows, ...(run ? { runId: run.id } : {}) },
});

async function newestMove(store: Store, id: string, now: AxisDocument) {
  const newest = (await store.runs.newest(id)).find(({ kind }) => kind === 'test move');
  const trace = newest && (await store.runs.trace(newest.id));
  if (!newest || !trace || !isAxis(trace.axis)) return undefined;
  const changes = acceptanceChanges(trace.axis, now);
  const results = evaluateAxis(axisInputOf(trace.axis).input);
  const { peakFollowingError, settlingTime, peakTorque, rmsTorque } = runFigures(
    results,
    trace,
    newest.end === 'finished',
  );
  const staleBecause =
    newest.end !== 'finished'
      ? 'the newest test move did not come to its end'
      : changes.length > 0
        ? `changed since: ${changes.join(', ')}`
        : undefined;
  const measured: Measured = {
    figures: { followingError: peakFollowingError, settlingTime, peakTorque, rmsTorque },
    staleBecause,
  };
  const { startedAt, axisVersion } = newest;
  return { measured, identity: trace.header.identity ?? '', run: { id: newest.id, startedAt, axisVersion } };
}

function staleness({ digest, identity }: MeasuredEvidence, now: AxisDocument, device: string): string | undefined {
  if (digest !== homingDigest(now)) return planChanged;
  return identity !== '' && device !== '' && identity !== device ? otherDevice : undefined;
}

function homingOf(kept: readonly MeasuredEvidence[], now: AxisDocument, device: string): Measured | undefined {
  const newest = kept.find((each) => each.kind === 'homing series' && each.payload.homes.length > 1);
  if (newest?.kind !== 'homing series') return undefined;
  const figures = { homingRepeatability: 4 * scatterOf(newest.payload.homes).standardDeviation };
  return { figures, staleBecause: staleness(newest, now, device) };
}

function positioningFigures(
  kept: readonly MeasuredEvidence[],
  now: AxisDocument,
  device: string,
): Measured | undefined {
  const newest = kept.find(({ kind }) => kind === 'positioning');
  if (newest?.kind !== 'positioning') return undefined;
  const each = newest.payload.targets.map(({ plus, minus }) => positioningOf(plus, minus).bidirectional);
  return { figures: { positionRepeatability: Math.max(...each) }, staleBecause: staleness(newest, now, device) };
}
