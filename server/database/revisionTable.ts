import { changesBetween, summaryOf, type Revision } from '@kavrid/contract';
import type { EntityManager } from 'typeorm';
import { revisionEntity, runEntity, type RevisionRow } from './entities.ts';

/** What became of a save. */
export type Saved<T> =
  | { readonly kind: 'saved'; readonly record: T }
  | { readonly kind: 'missing' }
  | { readonly kind: 'stale'; readonly record: T };

/** Who saves, and what it was for where that says more than the fields that changed. */
export interface Save {
  readonly author: string;
  readonly summary?: string;
}

/** Saves of machines, axes and library entries, each kept with the state it left. */
export class RevisionTable {
  readonly #manager: EntityManager;

  constructor(manager: EntityManager) {
    this.#manager = manager;
  }

  /** Belongs into the transaction that changes the subject itself. */
  async add(
    manager: EntityManager,
    subjectId: string,
    version: number,
    documents: { readonly before?: unknown; readonly after: unknown },
    save: Save,
  ): Promise<void> {
    const changed = () =>
      documents.before === undefined ? 'made' : summaryOf(changesBetween(documents.before, documents.after));
    await manager.query(
      "INSERT INTO revision (subject_id, version, saved_at, author, summary, name, document) VALUES (?, ?, ?, ?, ?, '', ?)",
      [
        subjectId,
        version,
        new Date(),
        save.author,
        (save.summary ?? changed()).slice(0, 300),
        JSON.stringify(documents.after),
      ],
    );
  }

  async page(subjectId: string, page: number, size: number, namedOnly: boolean) {
    const query = this.#manager
      .getRepository(revisionEntity)
      .createQueryBuilder('revision')
      .select([
        'revision.subjectId',
        'revision.version',
        'revision.at',
        'revision.author',
        'revision.summary',
        'revision.name',
      ])
      .where('revision.subjectId = :subjectId', { subjectId });
    if (namedOnly) query.andWhere("revision.name <> ''");
    const [rows, total] = await query
      .orderBy('revision.version', 'DESC')
      .skip(page * size)
      .take(size)
      .getManyAndCount();
    const counts = (await this.#manager
      .getRepository(runEntity)
      .createQueryBuilder('run')
      .select('run.axis_version', 'version')
      .addSelect('COUNT(*)', 'runs')
      .where('run.axis_id = :subjectId', { subjectId })
      .groupBy('run.axis_version')
      .getRawMany()) as readonly { version: number; runs: string }[];
    const runs = new Map(counts.map((each) => [each.version, Number(each.runs)]));
    return { total, items: rows.map((row): Revision => revisionOf(row, runs.get(row.version) ?? 0)) };
  }

  one(subjectId: string, version: number): Promise<RevisionRow | null> {
    return this.#manager.getRepository(revisionEntity).findOneBy({ subjectId, version });
  }

  /** Every revision of a subject, oldest first, a hundred at a time. */
  async *all(subjectId: string): AsyncGenerator<RevisionRow> {
    for (let after = 0; ;) {
      const rows = await this.#manager
        .getRepository(revisionEntity)
        .createQueryBuilder('revision')
        .where('revision.subjectId = :subjectId AND revision.version > :after', { subjectId, after })
        .orderBy('revision.version', 'ASC')
        .take(100)
        .getMany();
      yield* rows;
      const last = rows.at(-1);
      if (!last || rows.length < 100) return;
      after = last.version;
    }
  }

  /** @returns false when there is no such revision. */
  async name(subjectId: string, version: number, name: string): Promise<boolean> {
    if (!(await this.#manager.getRepository(revisionEntity).existsBy({ subjectId, version }))) return false;
    await this.#manager.getRepository(revisionEntity).update({ subjectId, version }, { name });
    return true;
  }
}

const revisionOf = ({ version, at, author, summary, name }: Omit<RevisionRow, 'document'>, runs: number): Revision => ({
  version,
  at: at.toISOString(),
  author,
  summary,
  name,
  runs,
});
