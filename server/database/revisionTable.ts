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

/** ms between two edits, and from the first to the last of a series, up to which they are one revision. */
const pauseTime = 5 * 60_000;
const seriesTime = 20 * 60_000;
/** ms for which a revision stays that a later one took in */
const takenInTime = 24 * 3_600_000;

interface ListedRevision {
  readonly version: number;
  readonly saved_at: Date;
  /** null: it is no edit that could go on */
  readonly began_at: Date | null;
  readonly author: string;
  readonly name: string;
  readonly document: string;
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
    const summary = () =>
      documents.before === undefined ? 'made' : summaryOf(changesBetween(documents.before, documents.after));
    await this.#insert(
      manager,
      { subjectId, version, document: documents.after, author: save.author },
      save.summary ?? summary(),
    );
  }

  /**
   * An edit of an axis or spindle. Edits of one person within some minutes are one revision, named by all that changed in it; a
   * text that cannot be taken makes none. What has a name, or is referred to by a run or by evidence, stays as it is.
   */
  async addEdit(
    manager: EntityManager,
    subjectId: string,
    version: number,
    { before, after }: { readonly before: unknown; readonly after: unknown },
    { author }: Save,
  ): Promise<void> {
    const now = new Date();
    const row = { subjectId, version, document: after, author };
    const isOnlyUnread = changesBetween(before, after).every(({ path }) => path[0] === 'unread');
    if (isOnlyUnread) return this.#insert(manager, row, 'text that cannot be read', { merged: 1 });
    const [last, ...earlier] = await this.#listed(manager, subjectId, version, 2);
    const since = last && (await this.#continues(manager, subjectId, last, author, now)) ? last.began_at : undefined;
    if (!last || !since) {
      const base = last ? (JSON.parse(last.document) as unknown) : before;
      return this.#insert(manager, row, summaryOf(changesBetween(base, after)), { beganAt: now });
    }
    const base = earlier[0] ? (JSON.parse(earlier[0].document) as unknown) : before;
    await manager.query('UPDATE revision SET merged = 1 WHERE subject_id = ? AND version = ?', [
      subjectId,
      last.version,
    ]);
    await this.#insert(manager, row, summaryOf(changesBetween(base, after)), { beganAt: since });
    // What was taken in stays for a while, for a run that was made with it and is not kept yet.
    await manager.query('DELETE FROM revision WHERE subject_id = ? AND merged = 1 AND saved_at < ?', [
      subjectId,
      new Date(now.getTime() - takenInTime),
    ]);
  }

  /** The newest revisions below a version that are in the list, the newest first. */
  async #listed(
    manager: EntityManager,
    subjectId: string,
    below: number,
    most: number,
  ): Promise<readonly ListedRevision[]> {
    return (await manager.query(
      `SELECT version, saved_at, began_at, author, name, document FROM revision
        WHERE subject_id = ? AND version < ? AND merged = 0 ORDER BY version DESC LIMIT ?`,
      [subjectId, below, most],
    )) as readonly ListedRevision[];
  }

  /** Whether an edit goes on from a revision instead of making a new one. */
  async #continues(
    manager: EntityManager,
    subjectId: string,
    { version, saved_at: savedAt, began_at: beganAt, author, name }: ListedRevision,
    editor: string,
    now: Date,
  ): Promise<boolean> {
    if (beganAt === null || author !== editor || name !== '') return false;
    if (now.getTime() - savedAt.getTime() > pauseTime || now.getTime() - beganAt.getTime() > seriesTime) return false;
    const [used] = (await manager.query(
      `SELECT EXISTS (SELECT 1 FROM run WHERE axis_id = ? AND axis_version = ?)
        OR EXISTS (SELECT 1 FROM evidence WHERE subject_id = ? AND revision = ?) AS used`,
      [subjectId, version, subjectId, version],
    )) as [{ readonly used: number | string }];
    return Number(used.used) === 0;
  }

  async #insert(
    manager: EntityManager,
    row: { readonly subjectId: string; readonly version: number; readonly document: unknown; readonly author: string },
    summary: string,
    { merged = 0, beganAt }: { readonly merged?: 0 | 1; readonly beganAt?: Date } = {},
  ): Promise<void> {
    await manager.query(
      `INSERT INTO revision (subject_id, version, saved_at, author, summary, name, document, merged, began_at)
        VALUES (?, ?, ?, ?, ?, '', ?, ?, ?)`,
      [
        ...[row.subjectId, row.version, new Date(), row.author, summary.slice(0, 300)],
        ...[JSON.stringify(row.document), merged, beganAt ?? null],
      ],
    );
  }

  /** Something refers to a revision: it is in the list, and stays. */
  async keep(subjectId: string, version: number, manager: EntityManager = this.#manager): Promise<void> {
    await manager.getRepository(revisionEntity).update({ subjectId, version }, { merged: false });
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
      .where('revision.subjectId = :subjectId AND revision.merged = 0', { subjectId });
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
    const proved = (await this.#manager.query(
      'SELECT revision, COUNT(*) AS proofs FROM evidence WHERE subject_id = ? GROUP BY revision',
      [subjectId],
    )) as readonly { readonly revision: number; readonly proofs: string }[];
    const proofs = new Map(proved.map((each) => [each.revision, Number(each.proofs)]));
    return {
      total,
      items: rows.map((row) => revisionOf(row, runs.get(row.version) ?? 0, proofs.get(row.version) ?? 0)),
    };
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
        .where('revision.subjectId = :subjectId AND revision.version > :after AND revision.merged = 0', {
          subjectId,
          after,
        })
        .orderBy('revision.version', 'ASC')
        .take(100)
        .getMany();
      yield* rows;
      const last = rows.at(-1);
      if (!last || rows.length < 100) return;
      after = last.version;
    }
  }

  /** A revision with a name is never taken in by a later one. @returns false when there is no such revision. */
  async name(subjectId: string, version: number, name: string): Promise<boolean> {
    if (!(await this.#manager.getRepository(revisionEntity).existsBy({ subjectId, version }))) return false;
    await this.#manager.getRepository(revisionEntity).update({ subjectId, version }, { name, merged: false });
    return true;
  }
}

const revisionOf = (
  { version, at, author, summary, name }: Omit<RevisionRow, 'document'>,
  runs: number,
  proofs: number,
): Revision => ({
  version,
  at: at.toISOString(),
  author,
  summary,
  name,
  runs,
  proofs,
});
