import { randomUUID } from 'node:crypto';
import type { MemberDocument, RunRecord, RunSummary } from '@kavrid/contract';
import type { DataSource, EntityManager } from 'typeorm';
import { runEntity, type RunRow } from './entities.ts';
import type { RevisionTable } from './revisionTable.ts';

/** Everything of a run but its trace, which may be large. */
const withoutTrace = {
  id: true,
  axisId: true,
  kind: true,
  end: true,
  because: true,
  startedAt: true,
  seconds: true,
  axisVersion: true,
} as const;

export class RunTable {
  readonly #source: DataSource;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, revisions: RevisionTable) {
    this.#source = source;
    this.#revisions = revisions;
  }

  async newest(axisId: string, most = 50): Promise<readonly RunSummary[]> {
    const rows = await this.#source
      .getRepository(runEntity)
      .find({ where: { axisId }, select: withoutTrace, order: { startedAt: 'DESC' }, take: most });
    return rows.map(runSummary);
  }

  row(id: string): Promise<RunRow | null> {
    return this.#source.getRepository(runEntity).findOneBy({ id });
  }

  async read(id: string): Promise<RunRecord | undefined> {
    const row = await this.row(id);
    const revision = row && (await this.#revisions.one(row.axisId, row.axisVersion));
    return revision ? { ...runSummary(row), axis: revision.document as MemberDocument, trace: row.trace } : undefined;
  }

  async add(
    run: Omit<RunRow, 'id'>,
    id: string = randomUUID(),
    manager: EntityManager = this.#source.manager,
  ): Promise<RunSummary> {
    const row = { ...run, id };
    await manager.getRepository(runEntity).insert(row);
    await this.#revisions.keep(run.axisId, run.axisVersion, manager);
    return runSummary(row);
  }

  /** Characters of all traces of some axes, to foretell the size of a file. */
  async traceSize(axisIds: readonly string[]): Promise<number> {
    if (axisIds.length === 0) return 0;
    const [row] = (await this.#source.query(`SELECT SUM(LENGTH(trace)) AS size FROM run WHERE axis_id IN (?)`, [
      axisIds,
    ])) as readonly {
      size: string | null;
    }[];
    return Number(row?.size ?? 0);
  }
}

const runSummary = ({
  id,
  axisId,
  kind,
  end,
  because,
  startedAt,
  seconds,
  axisVersion,
}: Omit<RunRow, 'trace'>): RunSummary => ({
  id,
  axisId,
  kind,
  end,
  ...(because ? { because } : {}),
  startedAt: startedAt.toISOString(),
  seconds,
  axisVersion,
});
