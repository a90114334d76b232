import { upgradeAxis2, upgradeEntry2 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments, rewriteEntries } from './rewriteDocuments.ts';

/** Cables of the library; documents of axes and library entries, and their earlier states, brought to format version 3. */
export class ThirdSchema1764100000000 implements MigrationInterface {
  name = 'ThirdSchema1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE axis ADD cable_entry VARCHAR(40), ADD INDEX axis_cable (cable_entry)');
    await rewriteDocuments(runner, 'axis', upgradeAxis2);
    await rewriteEntries(runner, upgradeEntry2);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
