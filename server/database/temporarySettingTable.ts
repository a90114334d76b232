import type { TemporarySetting } from '@kavrid/core/procedure';
import { In, type DataSource } from 'typeorm';
import { temporarySettingEntity, type TemporarySettingRow } from './entities.ts';

/** Drive values changed for a test, with their originals, until they are restored. Each belongs to a device. */
export class TemporarySettingTable {
  readonly #source: DataSource;

  constructor(source: DataSource) {
    this.#source = source;
  }

  /** What an axis or spindle has left changed, at whatever device. */
  async of(memberId: string): Promise<readonly TemporarySetting[]> {
    return (await this.#rows.findBy({ memberId })).map(settingOf);
  }

  /** What is left changed at a device, from any window. Settings from before identities were kept are found by the address. */
  async at(identity: string, address: string): Promise<readonly TemporarySetting[]> {
    const rows = await this.#rows.findBy({ identity: In([identity, '']), address });
    return rows.map((row) => ({ ...settingOf(row), identity }));
  }

  /** Keeps the original of the first change; a second change of the same value does not overwrite it. */
  async remember(memberId: string, setting: Omit<TemporarySetting, 'since'>): Promise<void> {
    const { key, identity, address } = setting;
    const [row] = await this.#rows.findBy({ key, identity: In([identity, '']), address });
    if (row) await this.#rows.update(primaryOf(row), { temporary: setting.temporary });
    else await this.#rows.insert({ memberId, since: new Date(), ...setting });
  }

  async forget({ key, identity, address }: Pick<TemporarySetting, 'key' | 'identity' | 'address'>): Promise<void> {
    await this.#rows.delete({ key, identity: In([identity, '']), address });
  }

  get #rows() {
    return this.#source.getRepository(temporarySettingEntity);
  }
}

const primaryOf = ({ memberId, key, identity, address }: TemporarySettingRow) => ({ memberId, key, identity, address });

const settingOf = ({ key, label, original, temporary, since, identity, address }: TemporarySettingRow) => ({
  key,
  label,
  original,
  temporary,
  since: since.toISOString(),
  identity,
  address,
});
