import { z } from 'zod';
import { machineSchema } from '../documents.ts';
import { readDriveProfile } from '../driveProfileFile.ts';
import { authorSchema, idSchema, line, momentSchema, versionSchema } from '../fields.ts';
import { libraryEntrySchema } from '../library/index.ts';
import { memberSchema } from '../member.ts';
import { runEndSchema, runKindSchema } from '../records.ts';

export const fileVersion = 14;

/** One save, with the state it left. */
const revision = <T extends z.ZodType>(document: T) =>
  z.strictObject({
    version: versionSchema,
    at: momentSchema,
    author: authorSchema,
    summary: line(300),
    name: line(80),
    document,
  });

const kept = <T extends z.ZodType>(document: T) => ({
  /** Files made by hand have none; one is made when they are imported. */
  id: idSchema.optional(),
  version: versionSchema.optional(),
  document,
  revisions: z.array(revision(document)).max(100_000).optional(),
});

const registerMapText = z
  .string()
  .max(1_000_000)
  .superRefine((csv, context) => {
    const read = readDriveProfile(csv);
    if (read.kind === 'refused') for (const message of read.problems) context.addIssue({ code: 'custom', message });
  });

/**
 * A run without its trace, which stands in the archive: what it is of in `traces/<id>.json`, its samples in `traces/<id>.bin`.
 * Up to format version 4 `traces/<id>.json` held the numbers too.
 */
const runInFile = z.strictObject({
  id: idSchema,
  kind: runKindSchema,
  end: runEndSchema,
  because: line(400),
  startedAt: momentSchema,
  seconds: z.number().min(0).max(1e7),
  axisVersion: versionSchema,
  name: line(80),
  notes: z.string().max(2000),
});

/**
 * A complete machine: a JSON file, or a ZIP archive with `machine.json` when traces are included. `sha256` is the digest of
 * the rest of the file, written as {@link canonicalJson}; leave it out of a file edited by hand.
 */
export const machineFileSchema = z.strictObject({
  format: z.literal('kavrid machine'),
  formatVersion: z.literal(fileVersion),
  sha256: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
  exportedAt: momentSchema.optional(),
  machine: z.strictObject(kept(machineSchema)),
  /** Its axes and spindles, in their order. */
  axes: z
    .array(
      z.strictObject({
        ...kept(memberSchema),
        removed: z.boolean().optional(),
        runs: z.array(runInFile).max(100_000).optional(),
      }),
    )
    .max(64),
  /** The library entries that the axes came from. */
  library: z
    .array(z.strictObject({ id: idSchema, version: versionSchema, item: libraryEntrySchema }))
    .max(1000)
    .optional(),
  registerMaps: z
    .array(z.strictObject({ id: idSchema, csv: registerMapText }))
    .max(64)
    .optional(),
});
export type MachineFile = z.infer<typeof machineFileSchema>;
export type AxisInFile = MachineFile['axes'][number];
export type RevisionInFile<T> = Omit<NonNullable<AxisInFile['revisions']>[number], 'document'> & {
  readonly document: T;
};

/** JSON with the fields of every object in the order of their names, so that equal contents give equal text. */
export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const fields = Object.entries(value)
    .filter(([, each]) => each !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, each]) => `${JSON.stringify(name)}:${canonicalJson(each)}`);
  return `{${fields.join(',')}}`;
}
