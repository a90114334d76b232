import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Spindles beside the axes: every document says which of the two it is, and so does a column. */
export class FourthSchema1764140000000 implements MigrationInterface {
  name = 'FourthSchema1764140000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE axis ADD kind VARCHAR(10) NOT NULL DEFAULT 'axis'");
    await runner.query("UPDATE axis SET document = JSON_INSERT(document, '$.kind', 'axis')");
    await runner.query(
      "UPDATE revision SET document = JSON_INSERT(document, '$.kind', 'axis') WHERE subject_id IN (SELECT id FROM axis)",
    );
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
