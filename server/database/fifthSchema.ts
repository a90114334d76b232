import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Versions have room, so that none that a file brings along is the last one.
 *
 * A temporary setting belongs to a device: to its identity, where it tells one, and its address. Those from before take the
 * address from the link of the revision in force when they were made.
 */
export class FifthSchema1764200000000 implements MigrationInterface {
  name = 'FifthSchema1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const table of ['machine', 'axis', 'revision', 'library_entry'])
      await runner.query(`ALTER TABLE ${table} MODIFY version BIGINT NOT NULL`);
    await runner.query('ALTER TABLE run MODIFY axis_version BIGINT NOT NULL');
    await runner.query(
      `ALTER TABLE temporary_setting
        ADD identity VARCHAR(60) NOT NULL DEFAULT '',
        ADD address VARCHAR(280) NOT NULL DEFAULT '',
        DROP PRIMARY KEY,
        ADD PRIMARY KEY (axis_id, parameter_key, identity, address)`,
    );
    await runner.query(
      `UPDATE temporary_setting t SET address = COALESCE((
        SELECT CONCAT(JSON_VALUE(r.document, '$.link.host'), ':', JSON_VALUE(r.document, '$.link.port'), '/', JSON_VALUE(r.document, '$.link.unit'))
        FROM revision r WHERE r.subject_id = t.axis_id AND r.saved_at <= t.since ORDER BY r.version DESC LIMIT 1), '')`,
    );
  }

  async down(): Promise<void> {
    throw new Error('A setting without its device could be restored to the wrong one; restore a backup instead.');
  }
}
