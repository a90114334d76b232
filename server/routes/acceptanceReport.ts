import {
  acceptanceChanges,
  acceptanceDigest,
  axisInputOf,
  byKind,
  homingDigest,
  hostMoveChanges,
  isAxis,
  judgedHostMoves,
  runFigures,
  runTestChanges,
  spindleSpeeds,
  type AcceptanceReport,
  type AxisDocument,
  type MeasuredEvidence,
  type MemberDocument,
  type RunKind,
  type SpindleDocument,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { judgeAcceptance, verdictOf, type Evidence, type Measured } from '@kavrid/core/evidence';
import { positioningOf, scatterOf } from '@kavrid/core/homing';
import type { Store } from '../database/store.ts';

const otherDevice = 'it was made with another device than the test move';
const planChanged = 'its plan has changed since';

/** A member as it is saved. */
interface Saved<Document> {
  readonly version: number;
  readonly document: Document;
}

/** An axis judged by its newest test move, homing series, positions and moves by the controller; a spindle by its newest run test. */
export const acceptanceReport = (
  store: Store,
  id: string,
  { version, document }: Saved<MemberDocument>,
): Promise<AcceptanceReport> =>
  byKind(document, {
    axis: (axis) => axisReport(store, id, { version, document: axis }),
    spindle: (spindle) => spindleReport(store, id, { version, document: spindle }),
  });

async function spindleReport(
  store: Store,
  id: string,
  { version, document }: Saved<SpindleDocument>,
): Promise<AcceptanceReport> {
  const newest = await newestRun(store, id, document, 'run test', (before) =>
    before.kind === 'spindle' ? runTestChanges(before, document) : ['what it is'],
  );
  const speeds = newest?.axis.kind === 'spindle' ? (spindleSpeeds(newest.axis, newest.trace) ?? []) : [];
  const errors = speeds.map(({ error }) => Math.abs(error));
  const rows = judgeAcceptance(document.acceptance, {
    'run test': newest && {
      figures: { speedError: errors.length > 0 ? Math.max(...errors) : undefined },
      staleBecause: newest.staleBecause,
    },
  });
  const run = newest && {
    id: newest.run.id,
    startedAt: newest.run.startedAt,
    axisVersion: newest.run.axisVersion,
  };
  return { version, verdict: verdictOf(rows), rows, identity: newest?.identity ?? '', ...(run ? { run } : {}) };
}

async function axisReport(
  store: Store,
  id: string,
  { version, document }: Saved<AxisDocument>,
): Promise<AcceptanceReport> {
  const move = await newestMove(store, id, document);
  const byHost = await hostFigures(store, id, document);
  const kept = await store.evidence.measured(id);
  const identity = move?.identity ?? '';
  const rows = judgeAcceptance(document.acceptance, {
    'test move': move?.measured,
    'homing series': homingOf(kept, document, identity),
    positioning: positioningFigures(kept, document, identity),
    'controller move': byHost && sameDevice(byHost, identity),
  });
  return { version, verdict: verdictOf(rows), rows, identity, ...(move ? { run: move.run } : {}) };
}

/** What is kept of a report. */
export const acceptanceEvidence = (
  { version, verdict, rows, identity, run }: AcceptanceReport,
  document: MemberDocument,
): Evidence<'acceptance'> => ({
  kind: 'acceptance',
  madeAt: new Date().toISOString(),
  revision: version,
  identity,
  digest: acceptanceDigest(document),
  payload: { verdict, rows, ...(run ? { runId: run.id } : {}) },
});

/** The newest run of a kind with its trace, what it was made with, and why it does not hold any more. */
async function newestRun(
  store: Store,
  id: string,
  now: MemberDocument,
  kind: RunKind,
  changesOf: (before: MemberDocument) => readonly string[],
) {
  const run = (await store.runs.newest(id)).find((each) => each.kind === kind);
  const trace = run && (await store.runs.trace(run.id));
  if (!run || !trace || trace.axis.kind !== now.kind) return undefined;
  const changes = changesOf(trace.axis);
  const staleBecause =
    run.end !== 'finished'
      ? `the newest ${kind} did not come to its end`
      : changes.length > 0
        ? `changed since: ${changes.join(', ')}`
        : undefined;
  return { run, trace, axis: trace.axis, identity: trace.header.identity ?? '', staleBecause };
}

async function newestMove(store: Store, id: string, now: AxisDocument) {
  const newest = await newestRun(store, id, now, 'test move', (before) =>
    isAxis(before) ? acceptanceChanges(before, now) : [],
  );
  if (!newest || !isAxis(newest.axis)) return undefined;
  const { run, trace, axis, identity, staleBecause } = newest;
  const results = evaluateAxis(axisInputOf(axis).input);
  const { peakFollowingError, settlingTime, peakTorque, rmsTorque } = runFigures(
    results,
    trace,
    run.end === 'finished',
  );
  const measured: Measured = {
    figures: { followingError: peakFollowingError, settlingTime, peakTorque, rmsTorque },
    staleBecause,
  };
  const { startedAt, axisVersion } = run;
  return { measured, identity, run: { id: run.id, startedAt, axisVersion } };
}

/** Travel error and pulses of the newest moves by the controller. */
async function hostFigures(store: Store, id: string, now: AxisDocument) {
  const newest = await newestRun(store, id, now, 'controller move', (before) =>
    isAxis(before) ? hostMoveChanges(before, now) : [],
  );
  if (!newest || !isAxis(newest.axis)) return undefined;
  const judged = judgedHostMoves(newest.axis, newest.trace);
  const figures = 'because' in judged ? undefined : judged.figures;
  const { pulsesDrifted, pulsesReceived, pulsesWanted } = figures ?? {};
  const perMove =
    pulsesReceived === undefined || pulsesWanted === undefined ? undefined : Math.abs(pulsesReceived - pulsesWanted);
  const lostPulses = perMove === undefined ? undefined : Math.round(Math.max(perMove, Math.abs(pulsesDrifted ?? 0)));
  const measured: Measured = {
    figures: { travelError: figures?.travelError, lostPulses },
    staleBecause: newest.staleBecause,
  };
  return { measured, identity: newest.identity };
}

const sameDevice = (
  { measured, identity }: { readonly measured: Measured; readonly identity: string },
  device: string,
): Measured =>
  identity !== '' && device !== '' && identity !== device
    ? { ...measured, staleBecause: measured.staleBecause ?? otherDevice }
    : measured;

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
