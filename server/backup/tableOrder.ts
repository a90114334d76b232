/** Every table of a backup: machines before their axes, axes before their runs, runs before their samples. */
export const tableOrder: readonly string[] = [
  'machine',
  'machine_tag',
  'axis',
  'revision',
  'library_entry',
  'drive_profile',
  'run',
  'run_samples',
  'temporary_setting',
  'evidence',
  'drive_snapshot',
];

/** @throws Error for a table that no backup would hold */
export function checkTableOrder(source: { readonly entityMetadatas: readonly { readonly tableName: string }[] }): void {
  const missing = source.entityMetadatas.map(({ tableName }) => tableName).filter((name) => !tableOrder.includes(name));
  if (missing.length > 0) throw new Error(`Backups would leave out ${missing.join(', ')}: add it to tableOrder.`);
}
