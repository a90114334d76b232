import { randomUUID } from 'node:crypto';
import {
  wayUnitOf,
  isEarlierTrace,
  readEarlierTrace,
  type MemberDocument,
  type RunRecord,
  type RunSummary,
  type Trace,
  type TraceHeader,
} from '@kavrid/contract';
import type { DataSource, EntityManager } from 'typeorm';
import { runEntity, runSamplesEntity, type RunRow } from './entities.ts';
import type { RevisionTable } from './revisionTable.ts';

/** Bytes of samples in a row. */
const partSize = 2 ** 21;

/** Everything of a run but what its trace is of, which up to format version 4 is the trace itself, and may be large. */
const withoutTrace = {
  id: true,
  memberId: true,
  kind: true,
  end: true,
  because: true,
  startedAt: true,
  seconds: true,
  axisVersion: true,
  name: true,
  notes: true,
} as const;

export class RunTable {
  readonly #source: DataSource;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, revisions: RevisionTable) {
    this.#source = source;
    this.#revisions = revisions;
  }

  async newest(memberId: string, most = 50): Promise<readonly RunSummary[]> {
    const rows = await this.#source
      .getRepository(runEntity)
      .find({ where: { memberId }, select: withoutTrace, order: { startedAt: 'DESC' }, take: most });
    return rows.map(runSummary);
  }

  async read(id: string): Promise<RunRecord | undefined> {
    const run = await this.#run(id);
    return run && { ...runSummary(run.row), axis: run.document, trace: await this.#header(run) };
  }

  /** The trace of a run, its samples in memory. */
  async trace(id: string): Promise<(Trace & { readonly run: RunSummary; readonly axis: MemberDocument }) | undefined> {
    const run = await this.#run(id);
    if (!run) return undefined;
    const shared = { run: runSummary(run.row), axis: run.document };
    if (isEarlierTrace(run.row.trace)) return { ...shared, ...earlierTrace(run) };
    const parts = await this.#source
      .getRepository(runSamplesEntity)
      .find({ where: { runId: id }, order: { part: 'ASC' } });
    return { ...shared, header: run.row.trace, samples: Buffer.concat(parts.map(({ data }) => data)) };
  }

  async add(
    given: Omit<RunRow, 'id' | 'trace' | 'name' | 'notes'> & Partial<Pick<RunRow, 'name' | 'notes'>>,
    { header, samples }: Trace,
    id: string = randomUUID(),
    manager?: EntityManager,
  ): Promise<RunSummary> {
    if (!manager) return this.#source.transaction((own) => this.add(given, { header, samples }, id, own));
    const run = { name: '', notes: '', ...given };
    const row = { ...run, id, trace: header };
    await manager.getRepository(runEntity).insert(row);
    for (let part = 0; part * partSize < samples.length; part++) {
      const data = Buffer.from(samples.subarray(part * partSize, (part + 1) * partSize));
      await manager.getRepository(runSamplesEntity).insert({ runId: id, part, data });
    }
    await this.#revisions.keep(run.memberId, run.axisVersion, manager);
    return runSummary(row);
  }

  /** @returns the run as it is now; undefined: there is none */
  async describe(id: string, { name, notes }: Pick<RunRow, 'name' | 'notes'>): Promise<RunSummary | undefined> {
    await this.#source.getRepository(runEntity).update({ id }, { name, notes });
    const row = await this.#source.getRepository(runEntity).findOne({ where: { id }, select: withoutTrace });
    return row ? runSummary(row) : undefined;
  }

  /** Bytes of all traces of some axes, to foretell the size of a file. */
  async traceSize(axisIds: readonly string[]): Promise<number> {
    if (axisIds.length === 0) return 0;
    const [row] = (await this.#source.query(
      `SELECT SUM(LENGTH(trace)) + COALESCE(SUM((SELECT SUM(LENGTH(data)) FROM run_samples WHERE run_id = run.id)), 0) AS size
        FROM run WHERE axis_id IN (?)`,
      [axisIds],
    )) as readonly { size: string | null }[];
    return Number(row?.size ?? 0);
  }

  async #run(id: string): Promise<Run | undefined> {
    const row = await this.#source.getRepository(runEntity).findOneBy({ id });
    const revision = row && (await this.#revisions.one(row.memberId, row.axisVersion));
    return revision ? { row, document: revision.document as MemberDocument } : undefined;
  }

  #header(run: Run): TraceHeader {
    return isEarlierTrace(run.row.trace) ? earlierTrace(run).header : run.row.trace;
  }
}

interface Run {
  readonly row: RunRow;
  readonly document: MemberDocument;
}

function earlierTrace({ row, document }: Run): Trace {
  const reading = readEarlierTrace(row.trace, wayUnitOf(document));
  if (reading.kind === 'refused') throw new Error(`The trace of run ${row.id} cannot be read: ${reading.because}`);
  return reading.trace;
}

const runSummary = ({
  id,
  memberId,
  kind,
  end,
  because,
  startedAt,
  seconds,
  axisVersion,
  name,
  notes,
}: Omit<RunRow, 'trace'>): RunSummary => ({
  id,
  memberId,
  kind,
  end,
  ...(because ? { because } : {}),
  startedAt: startedAt.toISOString(),
  seconds,
  axisVersion,
  name,
  notes,
});
