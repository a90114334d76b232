import { upgradeMember4 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Axes and spindles, and their earlier states, brought to format version 5. */
export class SixthSchema1764280000000 implements MigrationInterface {
  name = 'SixthSchema1764280000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember4);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
