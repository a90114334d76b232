import { upgradeMember9 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Axes and their earlier states are brought to format version 10: what home reads, and the switches and stops around it. */
export class EleventhSchema1764460000000 implements MigrationInterface {
  name = 'EleventhSchema1764460000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember9);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
