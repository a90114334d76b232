import { randomUUID } from 'node:crypto';
import { changesBetween, memberNouns, type MemberDocument, type MemberRecord } from '@kavrid/contract';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { axisEntity, machineEntity, type AxisRow } from './entities.ts';
import { ProblemError } from '../problem.ts';
import { refreshSearch } from './machineSearch.ts';
import type { RevisionTable, Save, Saved } from './revisionTable.ts';

export class AxisTable {
  readonly #source: DataSource;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, revisions: RevisionTable) {
    this.#source = source;
    this.#revisions = revisions;
  }

  async read(id: string): Promise<MemberRecord | undefined> {
    const [row] = (await this.#source.query(`${selectAxis} WHERE id = ?`, [id])) as readonly RawAxis[];
    return row && rawAxisRecord(row);
  }

  /** @returns undefined when there is no such machine. */
  async create(
    machineId: string,
    document: MemberDocument,
    save: Save,
    id?: string,
  ): Promise<MemberRecord | undefined> {
    return this.#source.transaction(async (manager) => {
      // The lock gives two axes added at once a place each.
      const machine = await manager
        .getRepository(machineEntity)
        .findOne({ where: { id: machineId }, lock: { mode: 'pessimistic_write' } });
      return machine
        ? axisRecord(await this.insert(manager, machineId, { document, ...(id === undefined ? {} : { id }) }, save))
        : undefined;
    });
  }

  /** Adds an axis in a transaction that does more; revisions brought along are the caller's matter then. */
  async insert(
    manager: EntityManager,
    machineId: string,
    axis: {
      readonly document: MemberDocument;
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
    await refreshSearch(manager, machineId);
    if (save) await this.#revisions.add(manager, row.id, row.version, { after: axis.document }, save);
    return row;
  }

  /** Saves what was made from a version; an older one is stale and changes nothing. A save that changes no field is no revision. */
  save(id: string, version: number, document: MemberDocument, save: Save): Promise<Saved<MemberRecord>> {
    return this.#source.transaction((manager) => this.saveWithin(manager, id, version, document, save));
  }

  /** @throws ProblemError when an axis would become a spindle, or the other way round */
  async saveWithin(
    manager: EntityManager,
    id: string,
    version: number,
    document: MemberDocument,
    save: Save,
  ): Promise<Saved<MemberRecord>> {
    const [row] = (await manager.query(`${selectAxis} WHERE id = ? FOR UPDATE`, [id])) as readonly RawAxis[];
    if (!row) return { kind: 'missing' };
    const now = rawAxisRecord(row);
    if (now.version !== version) return { kind: 'stale', record: now };
    if (now.document.kind !== document.kind)
      throw new ProblemError(422, 'An axis stays an axis, and a spindle a spindle.', {
        detail: `This is ${memberNouns[now.document.kind]}; make a new one instead.`,
      });
    if (!save.summary && changesBetween(now.document, document).length === 0) return { kind: 'saved', record: now };
    const updatedAt = new Date();
    const { name, motorEntry, driveEntry, controllerEntry, cableEntry } = columnsOf(document);
    await manager.query(
      `UPDATE axis SET name = ?, motor_entry = ?, drive_entry = ?, controller_entry = ?, cable_entry = ?, document = ?,
        version = ?, updated_at = ? WHERE id = ?`,
      [
        ...[name, motorEntry, driveEntry, controllerEntry, cableEntry, JSON.stringify(document)],
        ...[version + 1, updatedAt, id],
      ],
    );
    await manager.query('UPDATE machine SET updated_at = ? WHERE id = ?', [updatedAt, row.machine_id]);
    if (row.name !== name) await refreshSearch(manager, row.machine_id);
    const documents = { before: now.document, after: document };
    if (save.summary === undefined) await this.#revisions.addEdit(manager, id, version + 1, documents, save);
    else await this.#revisions.add(manager, id, version + 1, documents, save);
    return {
      kind: 'saved',
      record: { ...now, version: version + 1, updatedAt: updatedAt.toISOString(), document },
    };
  }

  /** Takes an axis out of its machine, or puts it back. @returns the axis, or undefined when there is none. */
  async setRemoved(id: string, removed: boolean): Promise<MemberRecord | undefined> {
    const axis = await this.read(id);
    if (!axis) return undefined;
    await this.#source.transaction(async (manager) => {
      await manager.getRepository(axisEntity).update({ id }, { removed });
      await refreshSearch(manager, axis.machineId);
    });
    return axis;
  }

  /** Axes that came from a library entry, with their machines. */
  async usersOf(entryId: string): Promise<readonly { readonly axis: MemberRecord; readonly machineName: string }[]> {
    const rows = await this.#source.getRepository(axisEntity).find({
      where: [{ motorEntry: entryId }, { driveEntry: entryId }, { controllerEntry: entryId }, { cableEntry: entryId }],
      take: 1000,
    });
    const machines = await this.#source
      .getRepository(machineEntity)
      .findBy({ id: In(rows.map((row) => row.machineId)) });
    const names = new Map(machines.map((machine) => [machine.id, machine.name]));
    return rows.map((row) => ({ axis: axisRecord(row), machineName: names.get(row.machineId) ?? '' }));
  }
}

/** What stands in columns of its own because it is searched for. */
export const columnsOf = (document: MemberDocument) => ({
  kind: document.kind,
  name: document.name,
  motorEntry: document.motor.entry?.id ?? null,
  driveEntry: document.drive.entry?.id ?? null,
  controllerEntry: document.controller.entry?.id ?? null,
  cableEntry: document.kind === 'axis' ? (document.cable.entry?.id ?? null) : null,
  document,
});

export const axisRecord = ({ id, machineId, version, updatedAt, document }: AxisRow): MemberRecord => ({
  id,
  machineId,
  version,
  updatedAt: updatedAt.toISOString(),
  document,
});

/** Saves and reads of an axis go without entities: these take longer to make than the row to find. */
export const selectAxis = 'SELECT id, machine_id, name, removed, version, updated_at, document FROM axis';

/** A row as the driver gives it. */
export interface RawAxis {
  readonly id: string;
  readonly machine_id: string;
  readonly name: string;
  readonly removed: number;
  readonly version: number;
  readonly updated_at: Date;
  readonly document: string;
}

export const rawAxisRecord = (row: RawAxis): MemberRecord => ({
  id: row.id,
  machineId: row.machine_id,
  version: row.version,
  updatedAt: row.updated_at.toISOString(),
  document: JSON.parse(row.document) as MemberDocument,
});
