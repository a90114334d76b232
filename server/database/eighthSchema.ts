import { upgradeMember6 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Axes and their earlier states are brought to format version 7. */
export class EighthSchema1764410000000 implements MigrationInterface {
  name = 'EighthSchema1764410000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember6);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
