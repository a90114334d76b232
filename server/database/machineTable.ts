import { randomUUID } from 'node:crypto';
import {
  changesBetween,
  type MemberDocument,
  type MachineDocument,
  type MachinePage,
  type MachineRecord,
  type MachinesWanted,
} from '@kavrid/contract';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { rawAxisRecord, selectAxis, type AxisTable, type RawAxis } from './axisTable.ts';
import { axisEntity, machineEntity, revisionEntity, type MachineRow } from './entities.ts';
import { refreshSearch, refreshTags, searchPattern } from './machineSearch.ts';
import type { RevisionTable, Save, Saved } from './revisionTable.ts';

interface ListedRow {
  readonly id: string;
  readonly name: string;
  readonly archived: number;
  readonly version: number;
  readonly updated_at: Date;
  readonly tags: string | null;
}

export class MachineTable {
  readonly #source: DataSource;
  readonly #axes: AxisTable;
  readonly #revisions: RevisionTable;
  readonly #counts = new Map<string, { readonly total: number; readonly at: number }>();

  constructor(source: DataSource, axes: AxisTable, revisions: RevisionTable) {
    this.#source = source;
    this.#axes = axes;
    this.#revisions = revisions;
  }

  count(): Promise<number> {
    return this.#source.getRepository(machineEntity).count();
  }

  async page({ search, tag, archived, sort, order, page, size }: MachinesWanted): Promise<MachinePage> {
    const conditions = ['machine.archived = ?'];
    const values: unknown[] = [archived];
    if (tag) {
      conditions.push('machine.id IN (SELECT machine_id FROM machine_tag WHERE tag = ?)');
      values.push(tag);
    }
    if (search) {
      conditions.push('machine.search LIKE ?');
      values.push(searchPattern(search));
    }
    const where = conditions.join(' AND ');
    const direction = order === 'ascending' ? 'ASC' : 'DESC';
    const column = sort === 'name' ? 'name' : 'updated_at';
    const sorted = `ORDER BY ${column} ${direction}, id ${direction}`;
    const [machines, total] = (await Promise.all([
      // The inner query reads an index only; documents are read for the rows of the page alone.
      this.#source.query(
        `SELECT id, name, archived, version, updated_at, JSON_QUERY(document, '$.tags') AS tags FROM machine JOIN
          (SELECT id FROM machine WHERE ${where} ${sorted} LIMIT ? OFFSET ?) listed USING (id) ${sorted}`,
        [...values, size, page * size],
      ),
      this.#countOf(where, values),
    ])) as [readonly ListedRow[], number];
    const axes =
      machines.length === 0
        ? []
        : ((await this.#source.query(
            'SELECT id, name, kind, machine_id FROM axis WHERE machine_id IN (?) AND removed = 0 ORDER BY position',
            [machines.map(({ id }) => id)],
          )) as readonly { id: string; name: string; kind: MemberDocument['kind']; machine_id: string }[]);
    return {
      total,
      items: machines.map(({ id, name, archived: isArchived, version, updated_at: updatedAt, tags: own }) => ({
        id,
        name,
        tags: JSON.parse(own ?? '[]') as string[],
        archived: isArchived === 1,
        version,
        updatedAt: updatedAt.toISOString(),
        axes: axes
          .filter((axis) => axis.machine_id === id)
          .map(({ id: memberId, name, kind }) => ({ id: memberId, name, kind })),
      })),
    };
  }

  /** How many machines there are in all; remembered for a second, because counting them takes longer than finding a page. */
  async #countOf(where: string, values: readonly unknown[]): Promise<number> {
    const key = JSON.stringify([where, values]);
    const known = this.#counts.get(key);
    if (known && Date.now() - known.at < 1000) return known.total;
    const [row] = (await this.#source.query(`SELECT COUNT(*) AS total FROM machine WHERE ${where}`, [...values])) as [
      { readonly total: string },
    ];
    if (this.#counts.size > 100) this.#counts.clear();
    this.#counts.set(key, { total: Number(row.total), at: Date.now() });
    return Number(row.total);
  }

  /** Every tag in use. */
  async tags(): Promise<readonly string[]> {
    const rows = (await this.#source.query('SELECT DISTINCT tag FROM machine_tag ORDER BY tag LIMIT 200')) as readonly {
      tag: string;
    }[];
    return rows.map(({ tag }) => tag);
  }

  async read(id: string): Promise<MachineRecord | undefined> {
    const [machines, axes] = await Promise.all([
      this.#source.query('SELECT version, updated_at, document FROM machine WHERE id = ?', [id]) as Promise<
        readonly { version: number; updated_at: Date; document: string }[]
      >,
      this.#source.query(`${selectAxis} WHERE machine_id = ? ORDER BY position`, [id]) as Promise<readonly RawAxis[]>,
    ]);
    const [machine] = machines;
    if (!machine) return undefined;
    return {
      id,
      version: machine.version,
      updatedAt: machine.updated_at.toISOString(),
      document: JSON.parse(machine.document) as MachineDocument,
      axes: axes.filter((axis) => !axis.removed).map(rawAxisRecord),
      removedAxes: axes.filter((axis) => axis.removed).map(({ id: memberId, name }) => ({ id: memberId, name })),
    };
  }

  async create(
    document: MachineDocument,
    axes: readonly MemberDocument[],
    save: Save,
    newId?: string,
  ): Promise<string> {
    return this.#source.transaction(async (manager) => {
      const { id } = await this.insert(manager, { document, ...(newId === undefined ? {} : { id: newId }) }, save);
      for (const axis of axes) await this.#axes.insert(manager, id, { document: axis }, save);
      return id;
    });
  }

  /** Adds a machine in a transaction that does more; revisions brought along are the caller's matter then. */
  async insert(
    manager: EntityManager,
    machine: { readonly document: MachineDocument; readonly id?: string; readonly version?: number },
    save?: Save,
  ): Promise<MachineRow> {
    const { document } = machine;
    const row = {
      id: machine.id ?? randomUUID(),
      version: machine.version ?? 1,
      updatedAt: new Date(),
      ...columnsOf(document),
    };
    await manager.getRepository(machineEntity).insert(row);
    this.#counts.clear();
    await refreshTags(manager, row.id, document);
    await refreshSearch(manager, row.id);
    if (save) await this.#revisions.add(manager, row.id, row.version, { after: document }, save);
    return row;
  }

  async save(id: string, version: number, document: MachineDocument, save: Save): Promise<Saved<MachineRecord>> {
    const kind = await this.#source.transaction((manager) => this.saveWithin(manager, id, version, document, save));
    const record = await this.read(id);
    return record && kind !== 'missing' ? { kind, record } : { kind: 'missing' };
  }

  async saveWithin(
    manager: EntityManager,
    id: string,
    version: number,
    document: MachineDocument,
    save: Save,
  ): Promise<Saved<unknown>['kind']> {
    const machines = manager.getRepository(machineEntity);
    const row = await machines.findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!row) return 'missing';
    if (row.version !== version) return 'stale';
    if (!save.summary && changesBetween(row.document, document).length === 0) return 'saved';
    await machines.update({ id }, { ...columnsOf(document), version: version + 1, updatedAt: new Date() });
    this.#counts.clear();
    await refreshTags(manager, id, document);
    await refreshSearch(manager, id);
    await this.#revisions.add(manager, id, version + 1, { before: row.document, after: document }, save);
    return 'saved';
  }

  /** Deletes an archived machine for good, with its axes, their runs and all revisions. */
  async delete(id: string): Promise<'deleted' | 'missing' | 'not archived'> {
    return this.#source.transaction(async (manager) => {
      const row = await manager.getRepository(machineEntity).findOneBy({ id });
      if (!row) return 'missing';
      if (!row.archived) return 'not archived';
      const axes = await manager.getRepository(axisEntity).find({ where: { machineId: id }, select: { id: true } });
      await manager.getRepository(revisionEntity).delete({ subjectId: In([id, ...axes.map((axis) => axis.id)]) });
      await manager.getRepository(machineEntity).delete({ id });
      this.#counts.clear();
      return 'deleted';
    });
  }
}

const columnsOf = (document: MachineDocument) => ({ name: document.name, archived: document.archived, document });
