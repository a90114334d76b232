import { upgradeAxis2, upgradeEntry2 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';

type Key = readonly (string | number)[];

/** Documents of axes and library entries, and their earlier states, brought to format version 3. */
export class ThirdSchema1764100000000 implements MigrationInterface {
  name = 'ThirdSchema1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await this.#upgrade(runner, 'axis', upgradeAxis2);
    await this.#upgrade(runner, 'library_entry', upgradeEntry2);
  }

  async #upgrade(
    runner: QueryRunner,
    table: 'axis' | 'library_entry',
    upgrade: (document: unknown) => unknown,
  ): Promise<void> {
    const ids = (await runner.query(`SELECT id FROM ${table}`)) as readonly { readonly id: string }[];
    const rewrite = async (from: string, where: string, key: Key) => {
      const rows = (await runner.query(`SELECT document FROM ${from} WHERE ${where}`, [...key])) as readonly {
        readonly document: string;
      }[];
      for (const { document } of rows)
        await runner.query(`UPDATE ${from} SET document = ? WHERE ${where}`, [
          JSON.stringify(upgrade(JSON.parse(document))),
          ...key,
        ]);
    };
    for (const { id } of ids) {
      await rewrite(table, 'id = ?', [id]);
      const saves = (await runner.query('SELECT version FROM revision WHERE subject_id = ?', [id])) as readonly {
        readonly version: number;
      }[];
      for (const { version } of saves) await rewrite('revision', 'subject_id = ? AND version = ?', [id, version]);
    }
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
