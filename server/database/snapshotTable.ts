import { randomUUID } from 'node:crypto';
import type { SnapshotRecord, SnapshotSummary } from '@kavrid/contract';
import type { DriveReading, DriveSnapshot } from '@kavrid/core/drive';
import type { DataSource } from 'typeorm';
import { axisEntity, snapshotEntity, type SnapshotRow } from './entities.ts';

/** Snapshots kept by themselves before a writing, of one axis or spindle; older ones go. */
const mostAutomatic = 50;
const mostListed = 500;

const withoutReading = {
  id: true,
  memberId: true,
  name: true,
  isAutomatic: true,
  takenAt: true,
  identity: true,
  map: true,
} as const;

/** All values of drives, as they were read at one time. */
export class SnapshotTable {
  readonly #source: DataSource;

  constructor(source: DataSource) {
    this.#source = source;
  }

  async add(memberId: string, snapshot: DriveSnapshot, isAutomatic: boolean): Promise<void> {
    const { name, takenAt, identity, map, reading } = snapshot;
    await this.#rows.insert({
      id: randomUUID(),
      memberId,
      name,
      isAutomatic,
      takenAt: new Date(takenAt),
      identity,
      map,
      reading: JSON.stringify(reading),
    });
    if (!isAutomatic) return;
    const old = await this.#rows.find({
      where: { memberId, isAutomatic: true },
      select: { id: true },
      order: { takenAt: 'DESC' },
      skip: mostAutomatic,
      take: mostAutomatic,
    });
    if (old.length > 0) await this.#rows.delete(old.map(({ id }) => id));
  }

  /** Of all axes and spindles of a machine, the newest first. */
  async ofMachine(machineId: string): Promise<readonly SnapshotSummary[]> {
    const rows = await this.#rows
      .createQueryBuilder('snapshot')
      .innerJoin(axisEntity.options.name, 'axis', 'axis.id = snapshot.memberId AND axis.machine_id = :machineId', {
        machineId,
      })
      .select(Object.keys(withoutReading).map((key) => `snapshot.${key}`))
      .orderBy('snapshot.takenAt', 'DESC')
      .limit(mostListed)
      .getMany();
    return rows.map(summaryOf);
  }

  async read(id: string): Promise<SnapshotRecord | undefined> {
    const row = await this.#rows.findOneBy({ id });
    return row ? { ...summaryOf(row), reading: JSON.parse(row.reading) as DriveReading } : undefined;
  }

  /** One that is given a name is kept like any other from then on. @returns whether there is such a one */
  async rename(id: string, name: string): Promise<boolean> {
    if (!(await this.#rows.existsBy({ id }))) return false;
    await this.#rows.update({ id }, { name, isAutomatic: false });
    return true;
  }

  async delete(id: string): Promise<boolean> {
    const { affected } = await this.#rows.delete({ id });
    return affected === 1;
  }

  get #rows() {
    return this.#source.getRepository(snapshotEntity);
  }
}

const summaryOf = ({
  id,
  memberId,
  name,
  isAutomatic,
  takenAt,
  identity,
  map,
}: Omit<SnapshotRow, 'reading'>): SnapshotSummary => ({
  id,
  memberId,
  name,
  isAutomatic,
  takenAt: takenAt.toISOString(),
  identity,
  map,
});
