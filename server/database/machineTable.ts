import { randomUUID } from 'node:crypto';
import {
  changesBetween,
  type AxisDocument,
  type MachineDocument,
  type MachinePage,
  type MachineRecord,
} from '@kavrid/contract';
import { Brackets, In, type DataSource, type EntityManager } from 'typeorm';
import type { AxisTable } from './axisTable.ts';
import { axisRecord } from './axisTable.ts';
import { axisEntity, machineEntity, revisionEntity, type MachineRow } from './entities.ts';
import type { RevisionTable, Save, Saved } from './revisionTable.ts';

export interface MachineQuery {
  readonly search: string;
  readonly tag: string;
  readonly archived: boolean;
  readonly sort: 'name' | 'updatedAt';
  readonly order: 'ascending' | 'descending';
  readonly page: number;
  readonly size: number;
}

export class MachineTable {
  readonly #source: DataSource;
  readonly #axes: AxisTable;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, axes: AxisTable, revisions: RevisionTable) {
    this.#source = source;
    this.#axes = axes;
    this.#revisions = revisions;
  }

  count(): Promise<number> {
    return this.#source.getRepository(machineEntity).count();
  }

  async page({ search, tag, archived, sort, order, page, size }: MachineQuery): Promise<MachinePage> {
    const query = this.#source
      .getRepository(machineEntity)
      .createQueryBuilder('machine')
      .where('machine.archived = :archived', { archived });
    if (tag) query.andWhere("JSON_CONTAINS(machine.document, JSON_QUOTE(:tag), '$.tags')", { tag });
    if (search) {
      const like = `%${search.replace(/[\\%_]/g, '\\$&')}%`;
      query.andWhere(
        new Brackets((or) =>
          or
            .where('machine.name LIKE :like', { like })
            .orWhere("JSON_VALUE(machine.document, '$.notes') LIKE :like", { like })
            .orWhere(
              'machine.id IN (SELECT axis.machine_id FROM axis WHERE axis.removed = 0 AND axis.name LIKE :like)',
              { like },
            ),
        ),
      );
    }
    const [machines, total] = await query
      .orderBy(`machine.${sort}`, order === 'ascending' ? 'ASC' : 'DESC')
      .addOrderBy('machine.id', 'ASC')
      .skip(page * size)
      .take(size)
      .getManyAndCount();
    const axes = await this.#source.getRepository(axisEntity).find({
      where: { machineId: In(machines.map(({ id }) => id)), removed: false },
      select: { id: true, name: true, machineId: true },
      order: { position: 'ASC' },
    });
    return {
      total,
      items: machines.map(({ id, name, version, updatedAt, document }) => ({
        id,
        name,
        tags: document.tags,
        archived: document.archived,
        version,
        updatedAt: updatedAt.toISOString(),
        axes: axes.filter((axis) => axis.machineId === id).map((axis) => ({ id: axis.id, name: axis.name })),
      })),
      tags: await this.#tags(),
    };
  }

  async #tags(): Promise<readonly string[]> {
    const rows = (await this.#source.query(
      `SELECT DISTINCT tag.word FROM machine, JSON_TABLE(machine.document, '$.tags[*]' COLUMNS (word VARCHAR(40) PATH '$')) tag
        ORDER BY tag.word LIMIT 200`,
    )) as readonly { word: string }[];
    return rows.map(({ word }) => word);
  }

  async read(id: string): Promise<MachineRecord | undefined> {
    const row = await this.#source.getRepository(machineEntity).findOneBy({ id });
    if (!row) return undefined;
    const axes = await this.#source
      .getRepository(axisEntity)
      .find({ where: { machineId: id }, order: { position: 'ASC' } });
    return {
      id,
      version: row.version,
      updatedAt: row.updatedAt.toISOString(),
      document: row.document,
      axes: axes.filter((axis) => !axis.removed).map(axisRecord),
      removedAxes: axes.filter((axis) => axis.removed).map(({ id: axisId, name }) => ({ id: axisId, name })),
    };
  }

  async create(document: MachineDocument, axes: readonly AxisDocument[], save: Save): Promise<string> {
    return this.#source.transaction(async (manager) => {
      const { id } = await this.insert(manager, { document }, save);
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
      return 'deleted';
    });
  }
}

const columnsOf = (document: MachineDocument) => ({ name: document.name, archived: document.archived, document });
