import { upgradeAxis1, upgradeMachine1 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { searchUpdate } from './machineSearch.ts';

interface Kept {
  readonly id: string;
  readonly version: number;
  readonly document: string;
  readonly updated_at: Date;
}

const table = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Revisions of every save; archive, removal and library origins; documents brought to format version 2. */
export class SecondSchema1764030000000 implements MigrationInterface {
  name = 'SecondSchema1764030000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE revision (subject_id VARCHAR(40) NOT NULL, version INT UNSIGNED NOT NULL, saved_at DATETIME(3) NOT NULL,
        author VARCHAR(120) NOT NULL, summary VARCHAR(300) NOT NULL, name VARCHAR(120) NOT NULL, document JSON NOT NULL,
        PRIMARY KEY (subject_id, version)) ${table}`,
    );
    await runner.query(
      `ALTER TABLE machine ADD archived TINYINT(1) NOT NULL DEFAULT 0,
        ADD search VARBINARY(2000) NOT NULL DEFAULT '',
        ADD INDEX machine_updated (archived, updated_at), ADD INDEX machine_name (archived, name),
        ADD INDEX machine_search (archived, search)`,
    );
    await runner.query(
      `CREATE TABLE machine_tag (tag VARCHAR(40) NOT NULL, machine_id VARCHAR(40) NOT NULL, PRIMARY KEY (tag, machine_id),
        INDEX machine_tag_machine (machine_id),
        CONSTRAINT machine_tag FOREIGN KEY (machine_id) REFERENCES machine (id) ON DELETE CASCADE) ${table}`,
    );
    await runner.query(
      `ALTER TABLE axis ADD removed TINYINT(1) NOT NULL DEFAULT 0, ADD motor_entry VARCHAR(40), ADD drive_entry VARCHAR(40),
        ADD controller_entry VARCHAR(40), ADD INDEX axis_motor (motor_entry), ADD INDEX axis_drive (drive_entry),
        ADD INDEX axis_controller (controller_entry)`,
    );
    await this.#upgrade(runner, 'machine', upgradeMachine1);
    await this.#upgrade(runner, 'axis', upgradeAxis1);
    await runner.query(searchUpdate);
    // Runs kept the settings they were made with; these become the revisions they always were.
    for (const run of (await runner.query(
      `SELECT axis_id, axis_version, MIN(started_at) AS started_at, MIN(axis_document) AS axis_document FROM run
        GROUP BY axis_id, axis_version`,
    )) as readonly { axis_id: string; axis_version: number; started_at: Date; axis_document: string }[]) {
      await runner.query(`INSERT IGNORE INTO revision VALUES (?, ?, ?, '', 'settings of a run', '', ?)`, [
        run.axis_id,
        run.axis_version,
        run.started_at,
        JSON.stringify(upgradeAxis1(JSON.parse(run.axis_document))),
      ]);
    }
    await runner.query(`ALTER TABLE run DROP COLUMN axis_document`);
    // The library had neither dates nor forms; it is filled again with the full set at the next start.
    await runner.query(`DROP TABLE library_entry`);
    await runner.query(
      `CREATE TABLE library_entry (id VARCHAR(40) PRIMARY KEY, shelf VARCHAR(20) NOT NULL, name VARCHAR(120) NOT NULL,
        document JSON NOT NULL, version INT UNSIGNED NOT NULL, updated_at DATETIME(3) NOT NULL,
        INDEX library_shelf (shelf, name)) ${table}`,
    );
  }

  async #upgrade(
    runner: QueryRunner,
    name: 'machine' | 'axis',
    upgrade: (document: unknown) => unknown,
  ): Promise<void> {
    const rows = (await runner.query(`SELECT id, version, document, updated_at FROM ${name}`)) as readonly Kept[];
    for (const row of rows) {
      const document = JSON.stringify(upgrade(JSON.parse(row.document)));
      await runner.query(`UPDATE ${name} SET document = ? WHERE id = ?`, [document, row.id]);
      await runner.query(`INSERT INTO revision VALUES (?, ?, ?, '', 'as it stood before revisions were kept', '', ?)`, [
        row.id,
        row.version,
        row.updated_at,
        document,
      ]);
    }
  }

  async down(): Promise<void> {
    throw new Error('Revisions cannot be taken away again; restore a backup instead.');
  }
}
