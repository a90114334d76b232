import { z } from 'zod';
import { machineSchema, type AxisDocument } from './documents.ts';
import { idSchema, momentSchema, versionSchema } from './fields.ts';
import { libraryEntrySchema } from './library/index.ts';
import { memberSchema } from './member.ts';
import type { SpindleDocument } from './spindleDocument.ts';
import { traceHeaderSchema } from './trace/index.ts';

// What the server keeps, as it answers with it.

export const machineSummarySchema = z.object({
  id: idSchema,
  name: z.string(),
  tags: z.array(z.string()).readonly(),
  archived: z.boolean(),
  version: versionSchema,
  updatedAt: momentSchema,
  axes: z.array(z.object({ id: idSchema, name: z.string(), kind: z.enum(['axis', 'spindle']) })).readonly(),
});
export type MachineSummary = z.infer<typeof machineSummarySchema>;

export const machinePageSchema = z.object({
  total: z.int(),
  items: z.array(machineSummarySchema).readonly(),
});
export type MachinePage = z.infer<typeof machinePageSchema>;

const record = { id: idSchema, version: versionSchema, updatedAt: momentSchema };

/** An axis or a spindle as it is kept. */
export const memberRecordSchema = z.object({ ...record, machineId: idSchema, document: memberSchema });
export type MemberRecord = z.infer<typeof memberRecordSchema>;
export type AxisRecord = MemberRecord & { readonly document: AxisDocument };
export type SpindleRecord = MemberRecord & { readonly document: SpindleDocument };
export const isAxisRecord = (record: MemberRecord): record is AxisRecord => record.document.kind === 'axis';
export const isSpindleRecord = (record: MemberRecord): record is SpindleRecord => record.document.kind === 'spindle';

export const machineRecordSchema = z.object({
  ...record,
  document: machineSchema,
  axes: z.array(memberRecordSchema).readonly(),
  /** Taken out of the machine, but kept: they can be put back. */
  removedAxes: z.array(z.object({ id: idSchema, name: z.string() })).readonly(),
});
export type MachineRecord = z.infer<typeof machineRecordSchema>;

export const entryRecordSchema = z.object({
  ...record,
  item: libraryEntrySchema,
  /** How many axes came from it. */
  usedBy: z.int(),
});
export type EntryRecord = z.infer<typeof entryRecordSchema>;

/** One save. */
export const revisionSchema = z.object({
  version: versionSchema,
  at: momentSchema,
  author: z.string(),
  summary: z.string(),
  name: z.string(),
  /** Runs made with these settings. */
  runs: z.int(),
  /** Proofs made with them. */
  proofs: z.int(),
});
export type Revision = z.infer<typeof revisionSchema>;
export const revisionPageSchema = z.object({ total: z.int(), items: z.array(revisionSchema).readonly() });
export type RevisionPage = z.infer<typeof revisionPageSchema>;

export const runKindSchema = z.enum([
  'homing',
  'test move',
  'run test',
  'move',
  'speed series',
  'response',
  'press',
  'controller move',
  'sweep',
  'gain trial',
  'imported',
]);
export const runEndSchema = z.enum(['finished', 'stopped', 'link lost', 'fault']);
export type RunKind = z.infer<typeof runKindSchema>;
export type RunEnd = z.infer<typeof runEndSchema>;

export const runSummarySchema = z.object({
  id: idSchema,
  memberId: idSchema,
  kind: runKindSchema,
  end: runEndSchema,
  because: z.string().optional(),
  startedAt: momentSchema,
  seconds: z.number(),
  /** Revision of the axis it was made with. */
  axisVersion: versionSchema,
  /** '' where it has none */
  name: z.string(),
  notes: z.string(),
});
export type RunSummary = z.infer<typeof runSummarySchema>;
export const runRecordSchema = runSummarySchema.extend({ axis: memberSchema, trace: traceHeaderSchema });
export type RunRecord = z.infer<typeof runRecordSchema>;

const changeSchema = z.object({
  path: z.array(z.union([z.string(), z.number()])).readonly(),
  before: z.unknown(),
  after: z.unknown(),
});

/** What an edited library entry would do to an axis that came from it. */
export const entryEffectSchema = z.object({
  memberId: idSchema,
  axisName: z.string(),
  kind: z.enum(['axis', 'spindle']),
  machineId: idSchema,
  machineName: z.string(),
  axisVersion: versionSchema,
  changes: z.array(changeSchema).readonly(),
  results: z
    .array(z.object({ symbol: z.string(), label: z.string(), unit: z.string(), before: z.string(), after: z.string() }))
    .readonly(),
});
export type EntryEffect = z.infer<typeof entryEffectSchema>;

/** A file that has been read and waits to be taken in. */
export const importStateSchema = z.object({
  id: idSchema,
  phase: z.enum(['reading', 'ready', 'taking in', 'done', 'refused', 'cancelled']),
  /** 0 to 1 of the phase */
  progress: z.number(),
  machineName: z.string(),
  axes: z.int(),
  runs: z.int(),
  problems: z.array(z.object({ pointer: z.string(), detail: z.string() })).readonly(),
  /** The same machine as it stands in the database. */
  existing: z
    .object({
      name: z.string(),
      updatedAt: momentSchema,
      /** What merging would change here, and where both were edited. */
      changes: z.array(z.string()).readonly(),
      conflicts: z.array(z.string()).readonly(),
    })
    .optional(),
  machineId: idSchema.optional(),
});
export type ImportState = z.infer<typeof importStateSchema>;

/** A register map, for which kind of member it is, and the axes and spindles whose link names it. */
export const profileRecordSchema = z.object({
  id: idSchema,
  name: z.string(),
  kind: z.enum(['axis', 'spindle']),
  users: z.array(z.string()).readonly(),
});
export type ProfileRecord = z.infer<typeof profileRecordSchema>;

/** A snapshot of a drive, without its values. */
export const snapshotSummarySchema = z.object({
  id: idSchema,
  memberId: idSchema,
  name: z.string(),
  /** Kept before a writing, and not given a name since. */
  isAutomatic: z.boolean(),
  takenAt: momentSchema,
  /** Mark of the device it was read from. */
  identity: z.string(),
  /** Name of the register map it was read by. */
  map: z.string(),
});
export type SnapshotSummary = z.infer<typeof snapshotSummarySchema>;

const rawValues = z.record(z.string(), z.number()).readonly();

/** … with all copies of its values, raw. */
export const snapshotRecordSchema = snapshotSummarySchema.extend({
  reading: z.object({ written: rawValues, running: rawValues, stored: rawValues, factory: rawValues }),
});
export type SnapshotRecord = z.infer<typeof snapshotRecordSchema>;
