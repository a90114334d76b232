import type { MigrationInterface, QueryRunner } from 'typeorm';

const table = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** The tables as first shipped. */
export class FirstSchema1764000000000 implements MigrationInterface {
  name = 'FirstSchema1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE machine (id VARCHAR(40) PRIMARY KEY, name VARCHAR(120) NOT NULL, document JSON NOT NULL,
        version INT UNSIGNED NOT NULL, updated_at DATETIME(3) NOT NULL) ${table}`,
    );
    await runner.query(
      `CREATE TABLE axis (id VARCHAR(40) PRIMARY KEY, machine_id VARCHAR(40) NOT NULL, position INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL, document JSON NOT NULL, version INT UNSIGNED NOT NULL, updated_at DATETIME(3) NOT NULL,
        INDEX axis_machine (machine_id, position),
        CONSTRAINT axis_machine FOREIGN KEY (machine_id) REFERENCES machine (id) ON DELETE CASCADE) ${table}`,
    );
    await runner.query(
      `CREATE TABLE library_entry (id VARCHAR(40) PRIMARY KEY, kind VARCHAR(20) NOT NULL, name VARCHAR(120) NOT NULL,
        document JSON NOT NULL, version INT UNSIGNED NOT NULL) ${table}`,
    );
    await runner.query(
      `CREATE TABLE drive_profile (id VARCHAR(40) PRIMARY KEY, name VARCHAR(120) NOT NULL, csv MEDIUMTEXT NOT NULL) ${table}`,
    );
    await runner.query(
      `CREATE TABLE run (id VARCHAR(40) PRIMARY KEY, axis_id VARCHAR(40) NOT NULL, kind VARCHAR(20) NOT NULL,
        end VARCHAR(20) NOT NULL, because VARCHAR(400) NOT NULL, started_at DATETIME(3) NOT NULL, seconds DOUBLE NOT NULL,
        axis_version INT UNSIGNED NOT NULL, axis_document JSON NOT NULL, trace JSON NOT NULL,
        INDEX run_axis (axis_id, started_at),
        CONSTRAINT run_axis FOREIGN KEY (axis_id) REFERENCES axis (id) ON DELETE CASCADE) ${table}`,
    );
    await runner.query(
      `CREATE TABLE temporary_setting (axis_id VARCHAR(40) NOT NULL, parameter_key VARCHAR(120) NOT NULL,
        label VARCHAR(120) NOT NULL, original DOUBLE NOT NULL, temporary DOUBLE NOT NULL, since DATETIME(3) NOT NULL,
        PRIMARY KEY (axis_id, parameter_key),
        CONSTRAINT temporary_axis FOREIGN KEY (axis_id) REFERENCES axis (id) ON DELETE CASCADE) ${table}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['temporary_setting', 'run', 'drive_profile', 'library_entry', 'axis', 'machine']) {
      await runner.query(`DROP TABLE ${name}`);
    }
  }
}
