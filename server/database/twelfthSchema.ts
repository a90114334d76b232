import { upgradeMember10 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Axes and their earlier states are brought to format version 11: jerk, drift, contact, a second flag, an absolute encoder, a square pair. */
export class TwelfthSchema1764547200000 implements MigrationInterface {
  name = 'TwelfthSchema1764547200000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember10);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
