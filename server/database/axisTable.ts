import { randomUUID } from 'node:crypto';
import { changesBetween, type AxisDocument, type AxisRecord } from '@kavrid/contract';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { axisEntity, machineEntity, type AxisRow } from './entities.ts';
import type { RevisionTable, Save, Saved } from './revisionTable.ts';

export class AxisTable {
  readonly #source: DataSource;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, revisions: RevisionTable) {
    this.#source = source;
    this.#revisions = revisions;
  }

  async read(id: string): Promise<AxisRecord | undefined> {
    const row = await this.#source.getRepository(axisEntity).findOneBy({ id });
    return row ? axisRecord(row) : undefined;
  }

  /** @returns undefined when there is no such machine. */
  async create(machineId: string, document: AxisDocument, save: Save): Promise<AxisRecord | undefined> {
    return this.#source.transaction(async (manager) => {
      // The lock gives two axes added at once a place each.
      const machine = await manager
        .getRepository(machineEntity)
        .findOne({ where: { id: machineId }, lock: { mode: 'pessimistic_write' } });
      return machine ? axisRecord(await this.insert(manager, machineId, { document }, save)) : undefined;
    });
  }

  /** Adds an axis in a transaction that does more; revisions brought along are the caller's matter then. */
  async insert(
    manager: EntityManager,
    machineId: string,
    axis: {
      readonly document: AxisDocument;
      readonly id?: string;
      readonly version?: number;
      readonly removed?: boolean;
    },
    save?: Save,
  ): Promise<AxisRow> {
    const axes = manager.getRepository(axisEntity);
    const row: AxisRow = {
      id: axis.id ?? randomUUID(),
      machineId,
      position: await axes.countBy({ machineId }),
      removed: axis.removed ?? false,
      version: axis.version ?? 1,
      updatedAt: new Date(),
      ...columnsOf(axis.document),
    };
    await axes.insert(row);
    if (save) await this.#revisions.add(manager, row.id, row.version, { after: axis.document }, save);
    return row;
  }

  /** Saves what was made from a version; an older one is stale and changes nothing. A save that changes no field is no revision. */
  save(id: string, version: number, document: AxisDocument, save: Save): Promise<Saved<AxisRecord>> {
    return this.#source.transaction((manager) => this.saveWithin(manager, id, version, document, save));
  }

  async saveWithin(
    manager: EntityManager,
    id: string,
    version: number,
    document: AxisDocument,
    save: Save,
  ): Promise<Saved<AxisRecord>> {
    const axes = manager.getRepository(axisEntity);
    const row = await axes.findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!row) return { kind: 'missing' };
    if (row.version !== version) return { kind: 'stale', record: axisRecord(row) };
    if (!save.summary && changesBetween(row.document, document).length === 0)
      return { kind: 'saved', record: axisRecord(row) };
    const next = { ...columnsOf(document), version: version + 1, updatedAt: new Date() };
    await axes.update({ id }, next);
    await manager.getRepository(machineEntity).update({ id: row.machineId }, { updatedAt: next.updatedAt });
    await this.#revisions.add(manager, id, next.version, { before: row.document, after: document }, save);
    return { kind: 'saved', record: axisRecord({ ...row, ...next }) };
  }

  /** Takes an axis out of its machine, or puts it back. @returns the axis, or undefined when there is none. */
  async setRemoved(id: string, removed: boolean): Promise<AxisRecord | undefined> {
    await this.#source.getRepository(axisEntity).update({ id }, { removed });
    return this.read(id);
  }

  /** Axes that came from a library entry, with their machines. */
  async usersOf(entryId: string): Promise<readonly { readonly axis: AxisRecord; readonly machineName: string }[]> {
    const rows = await this.#source
      .getRepository(axisEntity)
      .find({ where: [{ motorEntry: entryId }, { driveEntry: entryId }, { controllerEntry: entryId }], take: 1000 });
    const machines = await this.#source
      .getRepository(machineEntity)
      .findBy({ id: In(rows.map((row) => row.machineId)) });
    const names = new Map(machines.map((machine) => [machine.id, machine.name]));
    return rows.map((row) => ({ axis: axisRecord(row), machineName: names.get(row.machineId) ?? '' }));
  }
}

/** What stands in columns of its own because it is searched for. */
export const columnsOf = (document: AxisDocument) => ({
  name: document.name,
  motorEntry: document.motor.entry?.id ?? null,
  driveEntry: document.drive.entry?.id ?? null,
  controllerEntry: document.controller.entry?.id ?? null,
  document,
});

export const axisRecord = ({ id, machineId, version, updatedAt, document }: AxisRow): AxisRecord => ({
  id,
  machineId,
  version,
  updatedAt: updatedAt.toISOString(),
  document,
});
