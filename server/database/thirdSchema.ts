import { upgradeAxis2, upgradeEntry2 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';

type Upgrade = (document: unknown) => unknown;

/** Cables of the library; documents of axes and library entries, and their earlier states, brought to format version 3. */
export class ThirdSchema1764100000000 implements MigrationInterface {
  name = 'ThirdSchema1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE axis ADD cable_entry VARCHAR(40), ADD INDEX axis_cable (cable_entry)');
    for (const { id } of await idsOf(runner, 'axis')) {
      await rewrite(runner, 'axis', 'id = ?', [id], upgradeAxis2);
      await this.#revisions(runner, id, upgradeAxis2);
    }
    // An entry stands beside its shelf in its own table, and together with it in its revisions.
    for (const { id, shelf } of await idsOf(runner, 'library_entry')) {
      const entry: Upgrade = (document) =>
        (upgradeEntry2({ shelf, entry: document }) as { readonly entry: unknown }).entry;
      await rewrite(runner, 'library_entry', 'id = ?', [id], entry);
      await this.#revisions(runner, id, upgradeEntry2);
    }
  }

  async #revisions(runner: QueryRunner, id: string, upgrade: Upgrade): Promise<void> {
    const saves = (await runner.query('SELECT version FROM revision WHERE subject_id = ?', [id])) as readonly {
      readonly version: number;
    }[];
    for (const { version } of saves)
      await rewrite(runner, 'revision', 'subject_id = ? AND version = ?', [id, version], upgrade);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}

const idsOf = async (runner: QueryRunner, table: 'axis' | 'library_entry') =>
  (await runner.query(`SELECT id${table === 'axis' ? '' : ', shelf'} FROM ${table}`)) as readonly {
    readonly id: string;
    readonly shelf?: string;
  }[];

async function rewrite(
  runner: QueryRunner,
  table: string,
  where: string,
  key: readonly (string | number)[],
  upgrade: Upgrade,
): Promise<void> {
  const [row] = (await runner.query(`SELECT document FROM ${table} WHERE ${where}`, [...key])) as readonly {
    readonly document: string;
  }[];
  if (!row) return;
  const document = JSON.stringify(upgrade(JSON.parse(row.document)));
  await runner.query(`UPDATE ${table} SET document = ? WHERE ${where}`, [document, ...key]);
}
