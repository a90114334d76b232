import type { TemporarySetting } from '@kavrid/contract';
import type { DataSource } from 'typeorm';
import { temporarySettingEntity } from './entities.ts';

/** Drive values changed for a test, with their originals, until they are restored. */
export class TemporarySettingTable {
  readonly #source: DataSource;

  constructor(source: DataSource) {
    this.#source = source;
  }

  async of(axisId: string): Promise<readonly TemporarySetting[]> {
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
  async remember(axisId: string, setting: Omit<TemporarySetting, 'since'>): Promise<void> {
    const repository = this.#source.getRepository(temporarySettingEntity);
    const row = await repository.findOneBy({ axisId, key: setting.key });
    await repository.save({ axisId, since: new Date(), ...setting, original: row?.original ?? setting.original });
  }

  async forget(axisId: string, key: string): Promise<void> {
    await this.#source.getRepository(temporarySettingEntity).delete({ axisId, key });
  }
}
