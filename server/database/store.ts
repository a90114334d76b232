import { randomUUID } from 'node:crypto';
import type {
  AxisDocument,
  AxisRecord,
  ControllerDocument,
  DriveDocument,
  Library,
  MachineDocument,
  MachineRecord,
  MachineSummary,
  MotorDocument,
  ProfileRecord,
  RunRecord,
  RunSummary,
  TemporarySetting,
} from '@kavrid/contract';
import { readDriveProfile } from '@kavrid/contract';
import type { DriveProfile } from '@kavrid/core/drive';
import type { DataSource } from 'typeorm';
import {
  axisEntity,
  libraryEntity,
  machineEntity,
  profileEntity,
  runEntity,
  temporarySettingEntity,
  type AxisRow,
  type LibraryRow,
  type RunRow,
} from './entities.ts';

/** What became of a save. */
export type Saved<T> =
  | { readonly kind: 'saved'; readonly record: T }
  | { readonly kind: 'missing' }
  | { readonly kind: 'stale'; readonly record: T };

/** Everything that is kept. Each method is one transaction or one statement. */
export class Store {
  readonly #source: DataSource;
  readonly #profiles = new Map<string, DriveProfile>();

  constructor(source: DataSource) {
    this.#source = source;
  }

  async isUp(): Promise<boolean> {
    try {
      await this.#source.query('SELECT 1');
      return true;
    } catch {
      return false;
    }
  }

  async machines(): Promise<readonly MachineSummary[]> {
    const [machines, axes] = await Promise.all([
      this.#source.getRepository(machineEntity).find({ order: { updatedAt: 'DESC' }, take: 500 }),
      this.#source
        .getRepository(axisEntity)
        .find({ select: { id: true, name: true, machineId: true }, order: { position: 'ASC' } }),
    ]);
    return machines.map(({ id, name, version, updatedAt }) => ({
      id,
      name,
      version,
      updatedAt: updatedAt.toISOString(),
      axes: axes.filter((axis) => axis.machineId === id).map((axis) => ({ id: axis.id, name: axis.name })),
    }));
  }

  async machine(id: string): Promise<MachineRecord | undefined> {
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
      axes: axes.map(axisRecord),
    };
  }

  async createMachine(document: MachineDocument, axes: readonly AxisDocument[] = []): Promise<string> {
    const id = randomUUID();
    await this.#source.transaction(async (manager) => {
      await manager
        .getRepository(machineEntity)
        .insert({ id, name: document.name, document, version: 1, updatedAt: new Date() });
      for (const [position, axis] of axes.entries()) {
        await manager.getRepository(axisEntity).insert(newAxisRow(id, position, axis));
      }
    });
    return id;
  }

  async saveMachine(id: string, version: number, document: MachineDocument): Promise<Saved<MachineRecord>> {
    const done = await this.#source
      .getRepository(machineEntity)
      .update({ id, version }, { name: document.name, document, version: version + 1, updatedAt: new Date() });
    const record = await this.machine(id);
    return record ? { kind: done.affected ? 'saved' : 'stale', record } : { kind: 'missing' };
  }

  async deleteMachine(id: string): Promise<boolean> {
    return Boolean((await this.#source.getRepository(machineEntity).delete({ id })).affected);
  }

  async axis(id: string): Promise<AxisRecord | undefined> {
    const row = await this.#source.getRepository(axisEntity).findOneBy({ id });
    return row ? axisRecord(row) : undefined;
  }

  /** @returns undefined when there is no such machine. */
  async createAxis(machineId: string, document: AxisDocument): Promise<AxisRecord | undefined> {
    if (!(await this.#source.getRepository(machineEntity).existsBy({ id: machineId }))) return undefined;
    const axes = this.#source.getRepository(axisEntity);
    const row = newAxisRow(machineId, await axes.countBy({ machineId }), document);
    await axes.insert(row);
    return axisRecord(row);
  }

  async saveAxis(id: string, version: number, document: AxisDocument): Promise<Saved<AxisRecord>> {
    const done = await this.#source
      .getRepository(axisEntity)
      .update({ id, version }, { name: document.name, document, version: version + 1, updatedAt: new Date() });
    const record = await this.axis(id);
    return record ? { kind: done.affected ? 'saved' : 'stale', record } : { kind: 'missing' };
  }

  async deleteAxis(id: string): Promise<boolean> {
    return Boolean((await this.#source.getRepository(axisEntity).delete({ id })).affected);
  }

  async library(): Promise<Library> {
    const rows = await this.#source.getRepository(libraryEntity).find({ order: { name: 'ASC' } });
    const of = <T>(kind: LibraryRow['kind']) => rows.filter((row) => row.kind === kind).map((row) => row.document as T);
    return {
      motors: of<MotorDocument>('motor'),
      drives: of<DriveDocument>('drive'),
      controllers: of<ControllerDocument>('controller'),
    };
  }

  async addToLibrary(library: Library): Promise<void> {
    const entry = (kind: LibraryRow['kind']) => (document: { name: string }) => ({
      id: randomUUID(),
      kind,
      name: document.name,
      document,
      version: 1,
    });
    await this.#source
      .getRepository(libraryEntity)
      .insert([
        ...library.motors.map(entry('motor')),
        ...library.drives.map(entry('drive')),
        ...library.controllers.map(entry('controller')),
      ]);
  }

  async profiles(): Promise<readonly ProfileRecord[]> {
    const rows = await this.#source.getRepository(profileEntity).find({ order: { name: 'ASC' } });
    return rows.flatMap(({ id, csv }) => {
      const read = readDriveProfile(csv);
      return read.kind === 'profile' ? [{ id, profile: read.profile }] : [];
    });
  }

  async profile(id: string): Promise<DriveProfile | undefined> {
    const known = this.#profiles.get(id);
    if (known) return known;
    const row = await this.#source.getRepository(profileEntity).findOneBy({ id });
    const read = row && readDriveProfile(row.csv);
    if (read?.kind !== 'profile') return undefined;
    this.#profiles.set(id, read.profile);
    return read.profile;
  }

  async addProfile(profile: DriveProfile, csv: string): Promise<string> {
    const id = randomUUID();
    await this.#source.getRepository(profileEntity).insert({ id, name: profile.name, csv });
    return id;
  }

  async runs(axisId: string): Promise<readonly RunSummary[]> {
    const rows = await this.#source.getRepository(runEntity).find({
      where: { axisId },
      select: {
        id: true,
        axisId: true,
        kind: true,
        end: true,
        because: true,
        startedAt: true,
        seconds: true,
        axisVersion: true,
      },
      order: { startedAt: 'DESC' },
      take: 50,
    });
    return rows.map(runSummary);
  }

  async run(id: string): Promise<RunRecord | undefined> {
    const row = await this.#source.getRepository(runEntity).findOneBy({ id });
    return row ? { ...runSummary(row), axis: row.axisDocument, trace: row.trace } : undefined;
  }

  async addRun(run: Omit<RunRow, 'id'>): Promise<RunSummary> {
    const row = { ...run, id: randomUUID() };
    await this.#source.getRepository(runEntity).insert(row);
    return runSummary(row);
  }

  async temporarySettings(axisId: string): Promise<readonly TemporarySetting[]> {
    const rows = await this.#source.getRepository(temporarySettingEntity).findBy({ axisId });
    return rows.map(({ key, label, original, temporary, since }) => ({
      key,
      label,
      original,
      temporary,
      since: since.toISOString(),
    }));
  }

  /** Keeps the original of the first change; a second change of the same value does not overwrite it. */
  async rememberTemporary(axisId: string, setting: Omit<TemporarySetting, 'since'>): Promise<void> {
    const repository = this.#source.getRepository(temporarySettingEntity);
    const row = await repository.findOneBy({ axisId, key: setting.key });
    await repository.save({ axisId, since: new Date(), ...setting, original: row?.original ?? setting.original });
  }

  async forgetTemporary(axisId: string, key: string): Promise<void> {
    await this.#source.getRepository(temporarySettingEntity).delete({ axisId, key });
  }

  close(): Promise<void> {
    return this.#source.destroy();
  }
}

const newAxisRow = (machineId: string, position: number, document: AxisDocument): AxisRow => ({
  id: randomUUID(),
  machineId,
  position,
  name: document.name,
  document,
  version: 1,
  updatedAt: new Date(),
});

const axisRecord = ({ id, machineId, version, updatedAt, document }: AxisRow): AxisRecord => ({
  id,
  machineId,
  version,
  updatedAt: updatedAt.toISOString(),
  document,
});

const runSummary = ({
  id,
  axisId,
  kind,
  end,
  because,
  startedAt,
  seconds,
  axisVersion,
}: Omit<RunRow, 'trace' | 'axisDocument'>): RunSummary => ({
  id,
  axisId,
  kind,
  end,
  ...(because ? { because } : {}),
  startedAt: startedAt.toISOString(),
  seconds,
  axisVersion,
});
