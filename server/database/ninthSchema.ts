import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Snapshots of drives have a table. */
export class NinthSchema1764420000000 implements MigrationInterface {
  name = 'NinthSchema1764420000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE drive_snapshot (
      id VARCHAR(40) NOT NULL PRIMARY KEY,
      member_id VARCHAR(40) NOT NULL,
      name VARCHAR(120) NOT NULL,
      is_automatic TINYINT NOT NULL,
      taken_at DATETIME(3) NOT NULL,
      identity VARCHAR(60) NOT NULL,
      map_name VARCHAR(120) NOT NULL,
      reading JSON NOT NULL,
      INDEX drive_snapshot_member (member_id, is_automatic, taken_at),
      CONSTRAINT drive_snapshot_member FOREIGN KEY (member_id) REFERENCES axis (id) ON DELETE CASCADE
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE drive_snapshot');
  }
}
