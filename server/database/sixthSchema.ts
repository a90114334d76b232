import { upgradeEntry4, upgradeMember4 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments, rewriteEntries } from './rewriteDocuments.ts';

/** Edits made one after the other are one revision; evidence has a table; traces are binary; axes, spindles and library entries, and their earlier states, are brought to format version 5. */
export class SixthSchema1764280000000 implements MigrationInterface {
  name = 'SixthSchema1764280000000';

  async up(runner: QueryRunner): Promise<void> {
    // Saves that a later one of the same hand took in are out of the list; `began_at` is the first of such a series.
    await runner.query('ALTER TABLE revision ADD merged TINYINT NOT NULL DEFAULT 0, ADD began_at DATETIME(3)');
    await runner.query(`CREATE TABLE evidence (
      id VARCHAR(40) NOT NULL PRIMARY KEY,
      subject_id VARCHAR(40) NOT NULL,
      kind VARCHAR(40) NOT NULL,
      made_at DATETIME(3) NOT NULL,
      revision BIGINT NOT NULL,
      identity VARCHAR(60) NOT NULL,
      digest VARCHAR(64) NOT NULL,
      payload JSON NOT NULL,
      INDEX evidence_subject (subject_id, kind, identity, made_at)
    )`);
    // The numbers of a trace, binary, in rows that a backup can carry one by one; `run.trace` says what they are.
    await runner.query(`CREATE TABLE run_samples (
      run_id VARCHAR(40) NOT NULL,
      part SMALLINT UNSIGNED NOT NULL,
      data MEDIUMBLOB NOT NULL,
      PRIMARY KEY (run_id, part),
      CONSTRAINT run_samples_run FOREIGN KEY (run_id) REFERENCES run (id) ON DELETE CASCADE
    )`);
    await rewriteDocuments(runner, 'axis', upgradeMember4);
    await rewriteEntries(runner, upgradeEntry4);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
