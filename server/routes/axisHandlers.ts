import { Readable } from 'node:stream';
import { duplicateOf, traceToCsv, type AxisDocument, type MemberDocument, type MemberRecord } from '@kavrid/contract';
import type { Store } from '../database/store.ts';
import { notFound } from '../problem.ts';
import type { Handlers } from './apiRoutes.ts';
import { acceptanceEvidence, acceptanceReport } from './acceptanceReport.ts';
import { importedTrace } from './importedTrace.ts';
import { madeOnce } from './madeOnce.ts';
import { measuredByHand } from './measuredByHand.ts';
import { orMissing, savedOr } from './outcomes.ts';

type Names =
  | 'createAxis'
  | 'readAxis'
  | 'saveAxis'
  | 'removeAxis'
  | 'putBackAxis'
  | 'duplicateAxis'
  | 'listRevisions'
  | 'readRevision'
  | 'nameRevision'
  | 'restoreRevision'
  | 'listRuns'
  | 'listEvidence'
  | 'addMeasurement'
  | 'readAcceptance'
  | 'keepAcceptance'
  | 'readRun'
  | 'describeRun'
  | 'importTrace'
  | 'readSamples'
  | 'readTraceCsv';

/** An axis as it is saved. @param version it has to be this one @throws ProblemError 404, or 409 */
function memberOf(found: MemberRecord | undefined, version?: number): { version: number; document: MemberDocument } {
  const record = orMissing(found, 'axis');
  const isStale = version !== undefined && record.version !== version;
  const { document } = savedOr({ kind: isStale ? 'stale' : 'saved', record }, 'axis');
  return { version: record.version, document };
}

function axisOf(found: MemberRecord | undefined, version?: number): { version: number; document: AxisDocument } {
  const { document, ...rest } = memberOf(found, version);
  if (document.kind !== 'axis') throw notFound('axis');
  return { ...rest, document };
}

/** Notifies the other parts of the server of changes. */
export interface AxisEvents {
  readonly axisSaved: (
    memberId: string,
    saved: { readonly version: number; readonly author: string; readonly summary: string },
  ) => void;
  /** Machines or library: what lists them is out of date. */
  readonly listsChanged: () => void;
  /** Something that drives are worked by: register maps, axes taken out. */
  readonly plansChanged: () => void;
}

export function axisHandlers(
  store: Store,
  { axisSaved, listsChanged, plansChanged }: AxisEvents,
): Pick<Handlers, Names> {
  const tell = async (record: MemberRecord, since: number, author: string) => {
    if (record.version === since) return;
    const revision = await store.revisions.one(record.id, record.version);
    axisSaved(record.id, { version: record.version, author, summary: revision?.summary ?? '' });
  };
  const revision = async (id: string, version: number) =>
    orMissing(Number.isInteger(version) ? await store.revisions.one(id, version) : undefined, 'revision');
  const readMember = (id: string) => store.axes.read(id);
  return {
    createAxis: async ({ id, body: { document, author, newId } }) => {
      const axis = await madeOnce(newId, readMember, async () =>
        orMissing(await store.axes.create(id, document, { author }, newId), 'machine'),
      );
      listsChanged();
      return axis;
    },
    readAxis: async ({ id }) => orMissing(await store.axes.read(id), 'axis'),
    saveAxis: async ({ id, body: { version, document, author } }) => {
      const saved = await store.axes.save(id, version, document, { author });
      const newest = saved.kind === 'stale' ? await store.revisions.one(id, saved.record.version) : undefined;
      const record = savedOr(saved, 'axis', newest?.author);
      await tell(record, version, author);
      return record;
    },
    removeAxis: async ({ id }) => {
      orMissing(await store.axes.setRemoved(id, true), 'axis');
      listsChanged();
      plansChanged();
    },
    putBackAxis: async ({ id }) => {
      const axis = orMissing(await store.axes.setRemoved(id, false), 'axis');
      listsChanged();
      return axis;
    },
    duplicateAxis: async ({ id, body: { name, author, newId } }) => {
      const { machineId, document } = orMissing(await store.axes.read(id), 'axis');
      const save = { author, summary: `copied from ${document.name}` };
      const copy = await madeOnce(newId, readMember, async () =>
        orMissing(await store.axes.create(machineId, duplicateOf(document, name), save, newId), 'machine'),
      );
      listsChanged();
      return copy;
    },
    listRevisions: ({ id, query: { page, size, named } }) => store.revisions.page(id, page, size, named),
    readRevision: async ({ id, version }) => {
      const axis = orMissing(await store.axes.read(id), 'axis');
      const { document, at } = await revision(id, version);
      return { ...axis, version, updatedAt: at.toISOString(), document: document as MemberDocument };
    },
    nameRevision: async ({ id, version, body: { name } }) => {
      if (!Number.isInteger(version) || !(await store.revisions.name(id, version, name))) throw notFound('revision');
    },
    restoreRevision: async ({ id, version, body }) => {
      const { document, name } = await revision(id, version);
      const summary = `restored revision ${version}${name ? ` (“${name}”)` : ''}`;
      const save = { author: body.author, summary };
      const record = savedOr(await store.axes.save(id, body.version, document as MemberDocument, save), 'axis');
      await tell(record, body.version, body.author);
      return record;
    },
    listEvidence: ({ id }) => store.evidence.measured(id),
    readAcceptance: async ({ id }) => acceptanceReport(store, id, memberOf(await store.axes.read(id))),
    keepAcceptance: async ({ id, body: { version } }) => {
      const { document } = memberOf(await store.axes.read(id), version);
      const report = await acceptanceReport(store, id, { version, document });
      await store.evidence.add(id, acceptanceEvidence(report, document));
      return report;
    },
    addMeasurement: async ({ id, body: { version, measured } }) => {
      const { document } = axisOf(await store.axes.read(id), version);
      const evidence = measuredByHand(version, document, measured);
      await store.evidence.add(id, evidence);
      return evidence;
    },
    listRuns: ({ id }) => store.runs.newest(id),
    readRun: async ({ id }) => orMissing(await store.runs.read(id), 'run'),
    describeRun: async ({ id, body }) => orMissing(await store.runs.describe(id, body), 'run'),
    importTrace: async ({ id, body }) => {
      const { version } = memberOf(await store.axes.read(id));
      const { name, notes, trace } = await importedTrace(body);
      const { period, count } = trace.header;
      return store.runs.add(
        {
          memberId: id,
          kind: 'imported',
          end: 'finished',
          because: '',
          startedAt: new Date(),
          seconds: period * count,
          axisVersion: version,
          name,
          notes,
        },
        trace,
      );
    },
    readSamples: async ({ id }) => {
      const { samples } = orMissing(await store.runs.trace(id), 'run');
      return { type: 'application/octet-stream', body: Readable.from([samples]) };
    },
    readTraceCsv: async ({ id }) => {
      const trace = orMissing(await store.runs.trace(id), 'run');
      const { axis, run } = trace;
      const name = `${axis.name} ${run.kind} ${run.startedAt.slice(0, 19).replace(/:/g, '-')}.csv`;
      return { type: 'text/csv', name, body: Readable.from(traceToCsv(trace)) };
    },
  };
}
