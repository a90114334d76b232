import { upgradeMember7 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Snapshots of drives have a table; axes and their earlier states are brought to format version 8. */
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
    await rewriteDocuments(runner, 'axis', upgradeMember7);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
