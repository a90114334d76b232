import { upgradeEntry8 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteEntries } from './rewriteDocuments.ts';

/** Library entries, and their earlier states, have part numbers. */
export class TenthSchema1764430000000 implements MigrationInterface {
  name = 'TenthSchema1764430000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteEntries(runner, upgradeEntry8);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
