import { upgradeMember11 } from '@kavrid/contract';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { rewriteDocuments } from './rewriteDocuments.ts';

/** Runs have names and notes; axes and their earlier states are brought to format version 12: more moves, a sweep, more limits of acceptance. */
export class ThirteenthSchema1764580000000 implements MigrationInterface {
  name = 'ThirteenthSchema1764580000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE run ADD name VARCHAR(80) NOT NULL DEFAULT '', ADD notes TEXT NOT NULL DEFAULT ''");
    await rewriteDocuments(runner, 'axis', upgradeMember11);
  }

  async down(): Promise<void> {
    throw new Error('What has been added to documents cannot be taken away again; restore a backup instead.');
  }
}
