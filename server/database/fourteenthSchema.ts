import { upgradeMember12 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Axes, spindles and their earlier states are brought to format version 13: more gains, a trial, a set-point that waits, acceptance of spindles. */
export class FourteenthSchema1764600000000 implements MigrationInterface {
  name = 'FourteenthSchema1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteDocuments(runner, 'axis', upgradeMember12);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
