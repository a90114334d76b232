import './withoutCodeGeneration.ts';
import { acceptanceKeys, type AcceptanceLimit } from '@kavrid/core/evidence';
import { z } from 'zod';
import { idSchema, momentSchema, versionSchema } from './fields.ts';

const verdict = z.enum(['passed', 'failed', 'not measured']);

export const acceptanceRowSchema = z.object({
  key: z.enum(acceptanceKeys as [AcceptanceLimit, ...AcceptanceLimit[]]),
  limit: z.number(),
  measured: z.number().optional(),
  verdict,
  because: z.string().optional(),
});

/** An axis or a spindle as it is saved, judged by what was measured of it. */
export const acceptanceReportSchema = z.object({
  version: versionSchema,
  verdict,
  rows: z.array(acceptanceRowSchema).readonly(),
  /** Mark of the device that was measured; '' where none is known. */
  identity: z.string(),
  /** The test move or run test that was judged; absent: there is none. */
  run: z.object({ id: idSchema, startedAt: momentSchema, axisVersion: versionSchema }).optional(),
});
export type AcceptanceReport = z.infer<typeof acceptanceReportSchema>;
