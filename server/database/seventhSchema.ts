import { upgradeEntry5, upgradeMember5 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments, rewriteEntries } from './rewriteDocuments.ts';

/** Axes, spindles and library entries, and their earlier states, are brought to format version 6. */
export class SeventhSchema1764370000000 implements MigrationInterface {
  name = 'SeventhSchema1764370000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember5);
    await rewriteEntries(runner, upgradeEntry5);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
