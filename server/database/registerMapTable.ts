import { randomUUID } from 'node:crypto';
import { readDriveProfile } from '@kavrid/contract';
import type { DriveProfile } from '@kavrid/core/drive';
import type { DataSource } from 'typeorm';
import { profileEntity, type ProfileRow } from './entities.ts';

/** Register maps of drives, kept as the CSV that was imported. */
export class RegisterMapTable {
  readonly #source: DataSource;
  readonly #read = new Map<string, DriveProfile>();

  constructor(source: DataSource) {
    this.#source = source;
  }

  async names(): Promise<readonly { readonly id: string; readonly name: string }[]> {
    const rows = await this.#source
      .getRepository(profileEntity)
      .find({ select: { id: true, name: true }, order: { name: 'ASC' } });
    return rows.map(({ id, name }) => ({ id, name }));
  }

  row(id: string): Promise<ProfileRow | null> {
    return this.#source.getRepository(profileEntity).findOneBy({ id });
  }

  /** A map never changes once it is kept, so it is read only once. */
  async read(id: string): Promise<DriveProfile | undefined> {
    const known = this.#read.get(id);
    if (known) return known;
    const row = await this.row(id);
    const read = row && readDriveProfile(row.csv);
    if (read?.kind !== 'profile') return undefined;
    this.#read.set(id, read.profile);
    return read.profile;
  }

  async add(profile: DriveProfile, csv: string, id: string = randomUUID()): Promise<string> {
    await this.#source.getRepository(profileEntity).insert({ id, name: profile.name, csv });
    return id;
  }
}
