import './withoutCodeGeneration.ts';
import { z } from 'zod';
import { machineSchema } from './documents.ts';
import { memberSchema } from './member.ts';
import { authorSchema, idSchema, line, versionSchema } from './fields.ts';
import { libraryEntrySchema, libraryKinds } from './library/index.ts';
import { acceptanceReportSchema } from './acceptanceReport.ts';
import { measuredEvidenceSchema, measurementSchema } from './measurement.ts';
import { paths, type EndpointName } from './paths.ts';
import {
  memberRecordSchema,
  entryEffectSchema,
  entryRecordSchema,
  importStateSchema,
  machinePageSchema,
  machineRecordSchema,
  profileRecordSchema,
  revisionPageSchema,
  runRecordSchema,
  runSummarySchema,
  snapshotRecordSchema,
  snapshotSummarySchema,
} from './records.ts';

/** Problem details of RFC 9457; `errors` names the fields. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string().optional(),
  errors: z
    .array(z.object({ pointer: z.string(), detail: z.string() }))
    .readonly()
    .optional(),
});
export type Problem = z.infer<typeof problemSchema>;

type Method = 'get' | 'post' | 'put' | 'delete';

interface Endpoint {
  readonly method: Method;
  /** Parameters stand in braces. */
  readonly path: string;
  readonly summary: string;
  readonly query?: z.ZodObject;
  /** JSON; or the media type of a body that is taken as it comes. */
  readonly body?: z.ZodType | 'text/csv' | 'application/octet-stream' | 'text/plain';
  /** JSON; a media type; or nothing. */
  readonly answer: z.ZodType | 'text/csv' | 'application/octet-stream' | 'application/json' | 'nothing';
  /** What can go wrong besides 422 for a body that cannot be taken and 503 without a database. */
  readonly problems?: Readonly<Record<number, string>>;
}

const page = {
  page: z.coerce.number().int().min(0).max(1_000_000).default(0),
  size: z.coerce.number().int().min(1).max(200).default(50),
};
const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((value) => value === '1');
const save = <T extends z.ZodType>(document: T) =>
  z.strictObject({ version: versionSchema, author: authorSchema, document });
/** The id of the new item, chosen by the client: a repeated request with the same id makes it only once. */
const newId = idSchema.optional();
const create = <T extends z.ZodType>(document: T) => z.strictObject({ author: authorSchema, newId, document });
const stale = { 409: 'Saved by someone else since; the newest record goes along as “current”.' };
const missing = { 404: 'Not found.' };

/**
 * Everything the server answers to, in one table: its routes, the checks of what comes in, the OpenAPI document and the
 * generated tests are all made from it.
 */
export const endpoints = {
  health: {
    method: 'get',
    path: paths.health,
    summary: 'Whether server and database are up.',
    answer: z.object({ status: z.string(), database: z.boolean() }),
  },
  listMachines: {
    method: 'get',
    path: paths.listMachines,
    summary: 'A page of the machines.',
    query: z.object({
      search: line(100).default(''),
      tag: line(30).default(''),
      archived: flag,
      sort: z.enum(['name', 'updatedAt']).default('updatedAt'),
      order: z.enum(['ascending', 'descending']).default('descending'),
      ...page,
    }),
    answer: machinePageSchema,
  },
  listTags: {
    method: 'get',
    path: paths.listTags,
    summary: 'All tags of the machines.',
    answer: z.array(z.string()).readonly(),
  },
  createMachine: {
    method: 'post',
    path: paths.createMachine,
    summary: 'Makes a machine without axes.',
    body: create(machineSchema),
    answer: machineRecordSchema,
  },
  readMachine: {
    method: 'get',
    path: paths.readMachine,
    summary: 'A machine with its axes.',
    answer: machineRecordSchema,
    problems: missing,
  },
  saveMachine: {
    method: 'put',
    path: paths.saveMachine,
    summary: 'Saves name, notes, tags and whether it is archived.',
    body: save(machineSchema),
    answer: machineRecordSchema,
    problems: { ...missing, ...stale },
  },
  deleteMachine: {
    method: 'delete',
    path: paths.deleteMachine,
    summary: 'Deletes an archived machine with all its data, permanently.',
    answer: 'nothing',
    problems: { ...missing, 409: 'It is not archived.' },
  },
  duplicateMachine: {
    method: 'post',
    path: paths.duplicateMachine,
    summary: 'A copy of a machine and its axes, without runs.',
    body: z.strictObject({ author: authorSchema, newId, name: line(80).min(1) }),
    answer: machineRecordSchema,
    problems: missing,
  },
  exportMachine: {
    method: 'get',
    path: paths.exportMachine,
    summary: 'The machine as a file: JSON, or a ZIP archive when runs go along.',
    query: z.object({ revisions: flag, runs: flag, ticket: line(40).default('') }),
    answer: 'application/octet-stream',
    problems: missing,
  },
  readExport: {
    method: 'get',
    path: paths.readExport,
    summary: 'Progress of an export; the id is the ticket of the request.',
    answer: z.object({ done: z.int(), total: z.int() }),
    problems: missing,
  },
  cancelExport: {
    method: 'delete',
    path: paths.cancelExport,
    summary: 'Cancels an export.',
    answer: 'nothing',
    problems: missing,
  },
  startImport: {
    method: 'post',
    path: paths.startImport,
    summary: 'Reads a machine file; changes nothing yet.',
    body: 'application/octet-stream',
    answer: importStateSchema,
    problems: { 413: 'The file is too large.' },
  },
  readImport: {
    method: 'get',
    path: paths.readImport,
    summary: 'Progress of an import.',
    answer: importStateSchema,
    problems: missing,
  },
  takeImport: {
    method: 'post',
    path: paths.takeImport,
    summary: 'Imports the file: as a separate machine, in place of the existing one, or merged with it.',
    body: z.strictObject({
      author: authorSchema,
      how: z.enum(['keep both', 'replace', 'merge']),
      /** Where both were edited, when merging. */
      conflicts: z.enum(['file', 'database']).default('database'),
    }),
    answer: importStateSchema,
    problems: { ...missing, 409: 'It has been imported already, or cannot be.' },
  },
  cancelImport: {
    method: 'delete',
    path: paths.cancelImport,
    summary: 'Cancels an import; nothing is changed.',
    answer: 'nothing',
    problems: missing,
  },
  createAxis: {
    method: 'post',
    path: paths.createAxis,
    summary: 'Adds an axis to a machine.',
    body: create(memberSchema),
    answer: memberRecordSchema,
    problems: missing,
  },
  readAxis: { method: 'get', path: paths.readAxis, summary: 'An axis.', answer: memberRecordSchema, problems: missing },
  saveAxis: {
    method: 'put',
    path: paths.saveAxis,
    summary: 'Saves an axis; each save is a revision.',
    body: save(memberSchema),
    answer: memberRecordSchema,
    problems: { ...missing, ...stale },
  },
  removeAxis: {
    method: 'delete',
    path: paths.removeAxis,
    summary: 'Removes an axis from its machine; it is kept and can be restored.',
    answer: 'nothing',
    problems: missing,
  },
  putBackAxis: {
    method: 'post',
    path: paths.putBackAxis,
    summary: 'Puts a removed axis back.',
    answer: memberRecordSchema,
    problems: missing,
  },
  duplicateAxis: {
    method: 'post',
    path: paths.duplicateAxis,
    summary: 'A copy of an axis in the same machine, without runs.',
    body: z.strictObject({ author: authorSchema, newId, name: line(80).min(1) }),
    answer: memberRecordSchema,
    problems: missing,
  },
  listRevisions: {
    method: 'get',
    path: paths.listRevisions,
    summary: 'The saves of an axis, newest first.',
    query: z.object({ named: flag, ...page }),
    answer: revisionPageSchema,
  },
  readRevision: {
    method: 'get',
    path: paths.readRevision,
    summary: 'An axis as saved in that revision.',
    answer: memberRecordSchema,
    problems: missing,
  },
  nameRevision: {
    method: 'put',
    path: paths.nameRevision,
    summary: 'Names a revision; an empty name removes it.',
    body: z.strictObject({ name: line(80) }),
    answer: 'nothing',
    problems: missing,
  },
  restoreRevision: {
    method: 'post',
    path: paths.restoreRevision,
    summary: 'Restores a revision as a new one.',
    body: z.strictObject({ version: versionSchema, author: authorSchema }),
    answer: memberRecordSchema,
    problems: { ...missing, ...stale },
  },
  listEvidence: {
    method: 'get',
    path: paths.listEvidence,
    summary: 'The newest hundred homing series and measured positions of an axis.',
    answer: z.array(measuredEvidenceSchema).readonly(),
  },
  readAcceptance: {
    method: 'get',
    path: paths.readAcceptance,
    summary: 'The axis or spindle as saved, judged by its limits and what was measured of it.',
    answer: acceptanceReportSchema,
    problems: missing,
  },
  keepAcceptance: {
    method: 'post',
    path: paths.keepAcceptance,
    summary: 'Judges the axis or spindle, and keeps the result as evidence.',
    body: z.strictObject({ version: versionSchema }),
    answer: acceptanceReportSchema,
    problems: { ...missing, ...stale },
  },
  addMeasurement: {
    method: 'post',
    path: paths.addMeasurement,
    summary: 'Keeps what was read at a gauge: homes, or positions by ISO 230-2.',
    body: z.strictObject({ version: versionSchema, measured: measurementSchema }),
    answer: measuredEvidenceSchema,
    problems: { ...missing, ...stale },
  },
  listRuns: {
    method: 'get',
    path: paths.listRuns,
    summary: 'The newest fifty runs of an axis.',
    answer: z.array(runSummarySchema).readonly(),
  },
  readRun: {
    method: 'get',
    path: paths.readRun,
    summary: 'A run with what its trace is of, and the settings it was made with.',
    answer: runRecordSchema,
    problems: missing,
  },
  describeRun: {
    method: 'put',
    path: paths.describeRun,
    summary: 'Names a run, with notes.',
    body: z.strictObject({ name: line(80), notes: z.string().max(2000) }),
    answer: runSummarySchema,
    problems: missing,
  },
  importTrace: {
    method: 'post',
    path: paths.importTrace,
    summary:
      'Keeps a trace from elsewhere with an axis: a line of JSON that says what it is of, then its samples as a run has them.',
    body: 'application/octet-stream',
    answer: runSummarySchema,
    problems: { ...missing, 413: 'It is larger than a trace may be.' },
  },
  readSamples: {
    method: 'get',
    path: paths.readSamples,
    summary:
      'The samples of a run: its channels one after the other, little-endian, as the trace of the run describes them.',
    answer: 'application/octet-stream',
    problems: missing,
  },
  readTraceCsv: {
    method: 'get',
    path: paths.readTraceCsv,
    summary: 'The trace of a run as a table.',
    answer: 'text/csv',
    problems: missing,
  },
  listEntries: {
    method: 'get',
    path: paths.listEntries,
    summary: 'A page of the library.',
    query: z.object({ shelf: z.enum(libraryKinds), search: line(100).default(''), ...page }),
    answer: z.object({ total: z.int(), items: z.array(entryRecordSchema).readonly() }),
  },
  createEntry: {
    method: 'post',
    path: paths.createEntry,
    summary: 'Adds an entry.',
    body: z.strictObject({ author: authorSchema, newId, item: libraryEntrySchema }),
    answer: entryRecordSchema,
  },
  readEntry: {
    method: 'get',
    path: paths.readEntry,
    summary: 'An entry.',
    answer: entryRecordSchema,
    problems: missing,
  },
  saveEntry: {
    method: 'put',
    path: paths.saveEntry,
    summary: 'Saves an entry, and brings the axes named up to it in the same step.',
    body: z.strictObject({
      version: versionSchema,
      author: authorSchema,
      item: libraryEntrySchema,
      axes: z.array(z.strictObject({ id: idSchema, version: versionSchema })).max(1000),
    }),
    answer: entryRecordSchema,
    problems: { ...missing, ...stale },
  },
  deleteEntry: {
    method: 'delete',
    path: paths.deleteEntry,
    summary: 'Deletes an entry that no axis uses.',
    answer: 'nothing',
    problems: { ...missing, 409: 'It is in use; “errors” lists where.' },
  },
  entryUses: {
    method: 'get',
    path: paths.entryUses,
    summary: 'The axes that use an entry.',
    answer: z.array(entryEffectSchema).readonly(),
    problems: missing,
  },
  entryEffects: {
    method: 'post',
    path: paths.entryEffects,
    summary: 'What an edited entry would change in the axes that came from it; changes nothing.',
    body: z.strictObject({ item: libraryEntrySchema }),
    answer: z.array(entryEffectSchema).readonly(),
    problems: missing,
  },
  exportLibrary: {
    method: 'get',
    path: paths.exportLibrary,
    summary: 'The library as a file; a CSV holds one shelf.',
    query: z.object({ shelf: z.enum(libraryKinds).optional(), as: z.enum(['json', 'csv']).default('json') }),
    answer: 'application/octet-stream',
  },
  importLibrary: {
    method: 'post',
    path: paths.importLibrary,
    summary:
      'Adds the entries of a library file, JSON or CSV; entries that are there already, alike in all, are passed over.',
    query: z.object({ author: authorSchema.default('') }),
    body: 'text/plain',
    answer: z.object({ added: z.int(), alike: z.int() }),
  },
  listSnapshots: {
    method: 'get',
    path: paths.listSnapshots,
    summary: 'The snapshots of the drives of a machine, without their values, the newest first.',
    answer: z.array(snapshotSummarySchema).readonly(),
    problems: missing,
  },
  readSnapshot: {
    method: 'get',
    path: paths.readSnapshot,
    summary: 'A snapshot of a drive with its values, raw.',
    answer: snapshotRecordSchema,
    problems: missing,
  },
  renameSnapshot: {
    method: 'put',
    path: paths.renameSnapshot,
    summary: 'Gives a snapshot a name; one that was kept before a writing is then kept like any other.',
    body: z.strictObject({ name: line(80).min(1) }),
    answer: 'nothing',
    problems: missing,
  },
  deleteSnapshot: {
    method: 'delete',
    path: paths.deleteSnapshot,
    summary: 'Deletes a snapshot.',
    answer: 'nothing',
    problems: missing,
  },
  listSerialPorts: {
    method: 'get',
    path: paths.listSerialPorts,
    summary: 'The serial ports of the computer that Kavrid runs on, by path.',
    answer: z.array(z.string()).readonly(),
  },
  listProfiles: {
    method: 'get',
    path: paths.listProfiles,
    summary: 'The register maps.',
    answer: z.array(profileRecordSchema).readonly(),
  },
  importProfile: {
    method: 'post',
    path: paths.importProfile,
    summary: 'Adds a register map.',
    body: 'text/csv',
    answer: profileRecordSchema,
  },
  readProfile: {
    method: 'get',
    path: paths.readProfile,
    summary: 'A register map as a file.',
    answer: 'text/csv',
    problems: missing,
  },
  renameProfile: {
    method: 'put',
    path: paths.renameProfile,
    summary: 'Gives a register map another name.',
    body: z.strictObject({ name: line(80).min(1) }),
    answer: 'nothing',
    problems: missing,
  },
  replaceProfile: {
    method: 'put',
    path: paths.replaceProfile,
    summary: 'Puts another register map in the place of one; those that use it use the new one from then on.',
    body: 'text/csv',
    answer: profileRecordSchema,
    problems: missing,
  },
  deleteProfile: {
    method: 'delete',
    path: paths.deleteProfile,
    summary: 'Deletes a register map that is not in use.',
    answer: 'nothing',
    problems: { ...missing, 409: 'It is in use; “errors” says by whom.' },
  },
  machineFileSchema: {
    method: 'get',
    path: paths.machineFileSchema,
    summary: 'The JSON Schema of machine files.',
    answer: 'application/json',
  },
  openApi: { method: 'get', path: paths.openApi, summary: 'This description.', answer: 'application/json' },
} as const satisfies Readonly<Record<EndpointName, Endpoint>>;

export type Endpoints = typeof endpoints;

type JsonIn<E, Part extends string> = E extends Readonly<Record<Part, infer S extends z.ZodType>> ? S : never;
/** The parameters in the address of an endpoint, as a client writes them. */
export type QueryOf<N extends EndpointName> = Partial<z.output<JsonIn<Endpoints[N], 'query'>>>;
/** What is sent to it, without what every request to save or to make has. */
export type BodyOf<N extends EndpointName> = Omit<z.input<JsonIn<Endpoints[N], 'body'>>, 'author' | 'newId'>;
/** What it answers as JSON; nothing is null. */
export type AnswerOf<N extends EndpointName> = Endpoints[N] extends { readonly answer: 'nothing' }
  ? null
  : z.output<JsonIn<Endpoints[N], 'answer'>>;
/** How it is asked. */
export type MethodOf<N extends EndpointName> = Uppercase<Endpoints[N]['method']>;
/** Which machines, in which order, and which page of them. */
export type MachinesWanted = Readonly<z.output<Endpoints['listMachines']['query']>>;
