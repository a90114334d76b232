/** Where each endpoint is, below `/api`; parameters stand in braces. Apart from their schemas, which a first view need not load. */
export const paths = {
  health: '/health',
  listMachines: '/machines',
  listTags: '/tags',
  createMachine: '/machines',
  readMachine: '/machines/{id}',
  saveMachine: '/machines/{id}',
  deleteMachine: '/machines/{id}',
  duplicateMachine: '/machines/{id}/duplicate',
  exportMachine: '/machines/{id}/export',
  readExport: '/exports/{id}',
  cancelExport: '/exports/{id}',
  startImport: '/imports',
  readImport: '/imports/{id}',
  takeImport: '/imports/{id}/take',
  cancelImport: '/imports/{id}',
  createAxis: '/machines/{id}/axes',
  saveAxis: '/axes/{id}',
  removeAxis: '/axes/{id}',
  putBackAxis: '/axes/{id}/put-back',
  duplicateAxis: '/axes/{id}/duplicate',
  listRevisions: '/axes/{id}/revisions',
  readRevision: '/axes/{id}/revisions/{version}',
  nameRevision: '/axes/{id}/revisions/{version}/name',
  restoreRevision: '/axes/{id}/revisions/{version}/restore',
  listRuns: '/axes/{id}/runs',
  listEvidence: '/axes/{id}/evidence',
  readAcceptance: '/axes/{id}/acceptance',
  keepAcceptance: '/axes/{id}/acceptance',
  addMeasurement: '/axes/{id}/measurements',
  readRun: '/runs/{id}',
  readSamples: '/runs/{id}/samples',
  readTraceCsv: '/runs/{id}/trace.csv',
  listEntries: '/library',
  createEntry: '/library',
  readEntry: '/library/{id}',
  saveEntry: '/library/{id}',
  deleteEntry: '/library/{id}',
  entryUses: '/library/{id}/uses',
  entryEffects: '/library/{id}/effects',
  exportLibrary: '/library-file',
  importLibrary: '/library-file',
  listSnapshots: '/machines/{id}/snapshots',
  readSnapshot: '/snapshots/{id}',
  renameSnapshot: '/snapshots/{id}/name',
  deleteSnapshot: '/snapshots/{id}',
  listSerialPorts: '/serial-ports',
  listProfiles: '/profiles',
  importProfile: '/profiles',
  readProfile: '/profiles/{id}',
  renameProfile: '/profiles/{id}/name',
  replaceProfile: '/profiles/{id}',
  deleteProfile: '/profiles/{id}',
  machineFileSchema: '/schema/machine-file.json',
  readAxis: '/axes/{id}',
  openApi: '/openapi.json',
} as const;

export type EndpointName = keyof typeof paths;

/** The path of an endpoint with its parameters put in, and the query behind it. */
export function addressOf(
  name: EndpointName,
  parameters: Readonly<Record<string, string | number>> = {},
  query: Readonly<Record<string, string | number | boolean>> = {},
): string {
  const path = paths[name].replace(/\{(\w+)\}/g, (_, key: string) => encodeURIComponent(String(parameters[key] ?? '')));
  const entries = Object.entries(query).map(([key, value]): [string, string] => [
    key,
    typeof value === 'boolean' ? (value ? '1' : '0') : String(value),
  ]);
  return entries.length > 0 ? `${path}?${new URLSearchParams(entries).toString()}` : path;
}
