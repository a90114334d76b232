import { createHash, randomUUID } from 'node:crypto';
import { readDriveProfile, type KeptProfile, type ProfileRecord } from '@kavrid/contract';
import { spindleDriveRoles, type DriveProfile } from '@kavrid/core/drive';
import type { DataSource } from 'typeorm';
import { profileEntity, type ProfileRow } from './entities.ts';

/** Register maps of drives, kept as the CSV that was imported. */
export class RegisterMapTable {
  readonly #source: DataSource;
  /** By the digest of its text, so that a map that was replaced is read again. */
  readonly #read = new Map<string, DriveProfile | undefined>();

  constructor(source: DataSource) {
    this.#source = source;
  }

  get #rows() {
    return this.#source.getRepository(profileEntity);
  }

  /** Each with the axes and spindles that use it. */
  async all(): Promise<readonly ProfileRecord[]> {
    const rows = await this.#rows.find({ order: { name: 'ASC' } });
    const users = (await this.#source.query(
      `SELECT JSON_VALUE(axis.document, '$.link.profileId') AS map, axis.name AS name, JSON_VALUE(machine.document, '$.name') AS machine
        FROM axis JOIN machine ON machine.id = axis.machine_id
        WHERE JSON_VALUE(axis.document, '$.link.profileId') IS NOT NULL ORDER BY axis.name`,
    )) as readonly { readonly map: string; readonly name: string; readonly machine: string }[];
    return rows.map((row) => {
      const kept = this.#keptOf(row);
      return {
        id: row.id,
        name: row.name,
        kind: kept ? memberKindOf(kept.profile) : 'axis',
        users: users.filter(({ map }) => map === row.id).map(({ name, machine }) => `${machine}: ${name}`),
      };
    });
  }

  row(id: string): Promise<ProfileRow | null> {
    return this.#rows.findOneBy({ id });
  }

  /** @returns undefined when there is none, or when it can no longer be read */
  async read(id: string): Promise<KeptProfile | undefined> {
    const row = await this.row(id);
    return row ? this.#keptOf(row) : undefined;
  }

  #keptOf({ id, name, csv }: ProfileRow): KeptProfile | undefined {
    const digest = createHash('sha256').update(csv).digest('hex');
    if (!this.#read.has(digest)) {
      const read = readDriveProfile(csv);
      if (this.#read.size > 100) this.#read.clear();
      this.#read.set(digest, read.kind === 'profile' ? read.profile : undefined);
    }
    const profile = this.#read.get(digest);
    return profile && { mark: `${id} ${digest}`, profile: { ...profile, name } };
  }

  async add(profile: DriveProfile, csv: string, id: string = randomUUID()): Promise<string> {
    await this.#rows.insert({ id, name: nameOf(profile), csv });
    return id;
  }

  async rename(id: string, name: string): Promise<boolean> {
    const row = await this.row(id);
    if (row) await this.#rows.update({ id }, { name });
    return row !== null;
  }

  async replace(id: string, profile: DriveProfile, csv: string): Promise<ProfileRecord | undefined> {
    if (!(await this.row(id))) return undefined;
    await this.#rows.update({ id }, { name: nameOf(profile), csv });
    return (await this.all()).find((each) => each.id === id);
  }

  async delete(id: string): Promise<void> {
    await this.#rows.delete({ id });
  }
}

/** As much of a map's name as its column holds. */
const nameOf = ({ name }: DriveProfile): string => [...name].slice(0, 80).join('');

const ofSpindles: ReadonlySet<string> = new Set(spindleDriveRoles);

/** For which kind of member a map is: one that takes a speed reference, or has settings that only spindle drives have. */
export const memberKindOf = ({ registers, parameters }: DriveProfile): 'axis' | 'spindle' =>
  registers.speedReference || parameters.some(({ role }) => role !== undefined && ofSpindles.has(role))
    ? 'spindle'
    : 'axis';
