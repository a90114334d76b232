import type { QueryRunner } from 'typeorm';

type Upgrade = (document: unknown) => unknown;
type Table = 'axis' | 'library_entry';

/** Brings every document of a table to a newer form, and its earlier states with it; one at a time, so that memory stays small. */
export async function rewriteDocuments(runner: QueryRunner, table: Table, upgrade: Upgrade): Promise<void> {
  const rows = (await runner.query(`SELECT id FROM ${table}`)) as readonly { readonly id: string }[];
  for (const { id } of rows) {
    await rewriteDocument(runner, table, 'id = ?', [id], upgrade);
    await rewriteRevisions(runner, id, upgrade);
  }
}

/** Every entry of the library, which stands beside its shelf in its own table, and together with it in its revisions. */
export async function rewriteEntries(runner: QueryRunner, upgrade: Upgrade): Promise<void> {
  const entries = (await runner.query('SELECT id, shelf FROM library_entry')) as readonly {
    readonly id: string;
    readonly shelf: string;
  }[];
  for (const { id, shelf } of entries) {
    const alone = (document: unknown) => (upgrade({ shelf, entry: document }) as { readonly entry: unknown }).entry;
    await rewriteDocument(runner, 'library_entry', 'id = ?', [id], alone);
    await rewriteRevisions(runner, id, upgrade);
  }
}

/** The earlier states of one axis, spindle or library entry. */
export async function rewriteRevisions(runner: QueryRunner, id: string, upgrade: Upgrade): Promise<void> {
  const saves = (await runner.query('SELECT version FROM revision WHERE subject_id = ?', [id])) as readonly {
    readonly version: number;
  }[];
  for (const { version } of saves)
    await rewriteDocument(runner, 'revision', 'subject_id = ? AND version = ?', [id, version], upgrade);
}

export async function rewriteDocument(
  runner: QueryRunner,
  table: Table | 'revision',
  where: string,
  key: readonly (string | number)[],
  upgrade: Upgrade,
): Promise<void> {
  const [row] = (await runner.query(`SELECT document FROM ${table} WHERE ${where}`, [...key])) as readonly {
    readonly document: string;
  }[];
  if (!row) return;
  const document = JSON.stringify(upgrade(JSON.parse(row.document)));
  await runner.query(`UPDATE ${table} SET document = ? WHERE ${where}`, [document, ...key]);
}
