import { randomUUID } from 'node:crypto';
import {
  changesBetween,
  matchesPartNumber,
  sameJson,
  withEntry,
  type EntryRecord,
  type LibraryEntry,
  type LibraryKind,
} from '@kavrid/contract';
import { In, type DataSource } from 'typeorm';
import { axisRecord, type AxisTable } from './axisTable.ts';
import { axisEntity, libraryEntity, type LibraryRow } from './entities.ts';
import type { RevisionTable, Save, Saved } from './revisionTable.ts';

const usedColumn = {
  motor: 'motorEntry',
  drive: 'driveEntry',
  controller: 'controllerEntry',
  cable: 'cableEntry',
  'spindle motor': 'motorEntry',
  'spindle drive': 'driveEntry',
} as const;

export class LibraryTable {
  readonly #source: DataSource;
  readonly #axes: AxisTable;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, axes: AxisTable, revisions: RevisionTable) {
    this.#source = source;
    this.#axes = axes;
    this.#revisions = revisions;
  }

  count(): Promise<number> {
    return this.#source.getRepository(libraryEntity).count();
  }

  async page(query: {
    readonly shelf: LibraryKind;
    readonly search: string;
    readonly page: number;
    readonly size: number;
  }) {
    const { shelf, search, page, size } = query;
    const entries = this.#source.getRepository(libraryEntity);
    const found = search === '' ? undefined : await this.#found(shelf, search);
    const [rows, total] = await entries.findAndCount({
      where: { shelf, ...(found ? { id: In(found) } : {}) },
      order: { name: 'ASC' },
      skip: page * size,
      take: size,
    });
    const column = usedColumn[shelf];
    const uses =
      rows.length === 0
        ? []
        : ((await this.#source
            .getRepository(axisEntity)
            .createQueryBuilder('axis')
            .select(`axis.${column}`, 'id')
            .addSelect('COUNT(*)', 'uses')
            .where(`axis.${column} IN (:...ids)`, { ids: rows.map(({ id }) => id) })
            .groupBy(`axis.${column}`)
            .getRawMany()) as readonly { id: string; uses: string }[]);
    return {
      total,
      items: rows.map((row) => entryRecord(row, Number(uses.find(({ id }) => id === row.id)?.uses ?? 0))),
    };
  }

  /** Ids of those whose name has a text in it, or that are ordered under it as a part number. */
  async #found(shelf: LibraryKind, search: string): Promise<readonly string[]> {
    const rows = (await this.#source.query(
      `SELECT id, name, JSON_VALUE(document, '$.partNumbers') AS partNumbers FROM library_entry WHERE shelf = ?`,
      [shelf],
    )) as readonly { readonly id: string; readonly name: string; readonly partNumbers: string | null }[];
    const wanted = search.toLowerCase();
    return rows
      .filter(
        ({ name, partNumbers }) => name.toLowerCase().includes(wanted) || matchesPartNumber(partNumbers ?? '', search),
      )
      .map(({ id }) => id);
  }

  /** Every entry, or those of a shelf. */
  async all(shelf?: LibraryKind): Promise<readonly EntryRecord[]> {
    const rows = await this.#source
      .getRepository(libraryEntity)
      .find({ ...(shelf ? { where: { shelf } } : {}), order: { shelf: 'ASC', name: 'ASC' } });
    return rows.map((row) => entryRecord(row, 0));
  }

  async read(id: string): Promise<EntryRecord | undefined> {
    const row = await this.#source.getRepository(libraryEntity).findOneBy({ id });
    return row ? entryRecord(row, await this.#uses(row)) : undefined;
  }

  #uses({ id, shelf }: LibraryRow): Promise<number> {
    return this.#source.getRepository(axisEntity).countBy({ [usedColumn[shelf]]: id });
  }

  async create(item: LibraryEntry, save: Save, id: string = randomUUID()): Promise<EntryRecord> {
    return this.#source.transaction(async (manager) => {
      const row = { id, version: 1, updatedAt: new Date(), ...columnsOf(item) };
      await manager.getRepository(libraryEntity).insert(row);
      await this.#revisions.add(manager, id, 1, { after: item }, save);
      return entryRecord(row, 0);
    });
  }

  /** Adds what is not there yet: entries alike in all are passed over. An id that is taken gives way to a new one. */
  async add(entries: readonly { readonly id?: string | undefined; readonly item: LibraryEntry }[], save: Save) {
    const present = await this.all();
    let [added, alike] = [0, 0];
    for (const { id, item } of entries) {
      if (present.some((each) => sameJson(each.item, item))) {
        alike++;
        continue;
      }
      await this.create(item, save, id !== undefined && !present.some((each) => each.id === id) ? id : undefined);
      added++;
    }
    return { added, alike };
  }

  /**
   * Saves an entry and brings axes that came from it up to it, all in one step.
   * @param axes with the versions that were looked at; one that was saved since makes the whole step stale
   */
  async save(
    id: string,
    version: number,
    item: LibraryEntry,
    save: Save,
    axes: readonly { readonly id: string; readonly version: number }[],
  ): Promise<Saved<EntryRecord>> {
    const staleAxis = new Error('an axis was saved in the meantime');
    const kind = await this.#source
      .transaction(async (manager): Promise<Saved<unknown>['kind']> => {
        const entries = manager.getRepository(libraryEntity);
        const row = await entries.findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
        if (!row || row.shelf !== item.shelf) return 'missing';
        if (row.version !== version) return 'stale';
        const before = itemOf(row);
        const isNew = changesBetween(before, item).length > 0;
        const next = isNew ? version + 1 : version;
        if (isNew) {
          await entries.update({ id }, { ...columnsOf(item), version: next, updatedAt: new Date() });
          // Its own summary says what changed in it; the one given is about the axes.
          await this.#revisions.add(manager, id, next, { before, after: item }, { author: save.author });
        }
        for (const axis of axes) {
          const axisRow = await manager.getRepository(axisEntity).findOneBy({ id: axis.id });
          if (!axisRow) continue;
          const { document } = axisRecord(axisRow);
          const saved = await this.#axes.saveWithin(
            manager,
            axis.id,
            axis.version,
            withEntry(document, item, { id, version: next }),
            save,
          );
          if (saved.kind === 'stale') throw staleAxis;
        }
        return 'saved';
      })
      .catch((error: unknown) => {
        if (error === staleAxis) return 'stale' as const;
        throw error;
      });
    const record = await this.read(id);
    return record && kind !== 'missing' ? { kind, record } : { kind: 'missing' };
  }

  async delete(id: string): Promise<'deleted' | 'missing' | 'in use'> {
    const row = await this.#source.getRepository(libraryEntity).findOneBy({ id });
    if (!row) return 'missing';
    if ((await this.#uses(row)) > 0) return 'in use';
    await this.#source.getRepository(libraryEntity).delete({ id });
    return 'deleted';
  }
}

const columnsOf = ({ shelf, entry }: LibraryEntry) => ({ shelf, name: entry.name, document: entry });

const itemOf = ({ shelf, document }: LibraryRow): LibraryEntry => ({ shelf, entry: document }) as LibraryEntry;

const entryRecord = (row: LibraryRow, usedBy: number): EntryRecord => ({
  id: row.id,
  version: row.version,
  updatedAt: row.updatedAt.toISOString(),
  item: itemOf(row),
  usedBy,
});
