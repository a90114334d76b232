import type { MachineDocument } from '@kavrid/contract';
import type { EntityManager } from 'typeorm';
import { machineTagEntity } from './entities.ts';

/**
 * Fills the column that machines are searched by: name, axes and notes in small letters, as bytes and in an index of its
 * own, so that a search compares fast and reads no documents. What lies beyond 500 characters is not found.
 */
export const searchUpdate = `UPDATE machine SET search = LEFT(LOWER(CONCAT_WS('\n', machine.name,
  (SELECT GROUP_CONCAT(axis.name SEPARATOR '\n') FROM axis WHERE axis.machine_id = machine.id AND axis.removed = 0),
  JSON_VALUE(machine.document, '$.notes'))), 500)`;

/** Belongs into every transaction that changes names or notes of a machine or its axes. */
export const refreshSearch = async (manager: EntityManager, machineId: string): Promise<void> => {
  await manager.query(`${searchUpdate} WHERE machine.id = ?`, [machineId]);
};

/** What finds a text in that column. */
export const searchPattern = (text: string): string => `%${text.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`;

/** Keeps the tags of a machine where they can be counted and chosen from. */
export async function refreshTags(manager: EntityManager, machineId: string, { tags }: MachineDocument): Promise<void> {
  const rows = manager.getRepository(machineTagEntity);
  await rows.delete({ machineId });
  // Tags that the database takes for the same (Lift and lift, ß and ss) are one to search by; the document keeps all.
  if (tags.length > 0)
    await rows
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .values(tags.map((tag) => ({ tag, machineId })))
      .execute();
}
