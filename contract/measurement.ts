import './withoutCodeGeneration.ts';
import { z } from 'zod';
import { acceptanceRowSchema } from './acceptanceReport.ts';
import { momentSchema, versionSchema } from './fields.ts';

const reading = z.number().min(-1e7).max(1e7);
const readings = z.array(reading).min(2).max(50).readonly();

/** A target position and what was read there, in axis units; ISO 230-2 has five readings each way. */
const targetSchema = z.strictObject({ target: reading, plus: readings, minus: readings });

/** What a person has read at a gauge. */
export const measurementSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('homing series'), homes: z.array(reading).min(2).max(200).readonly() }),
  z.strictObject({ kind: z.literal('positioning'), targets: z.array(targetSchema).min(1).max(50).readonly() }),
]);
export type Measurement = z.infer<typeof measurementSchema>;

const evidence = {
  madeAt: momentSchema,
  /** Version of the axis. */
  revision: versionSchema,
  /** Mark of the device; '' for a gauge. */
  identity: z.string(),
  digest: z.string(),
};

/** A measured homing series, measured positions or an acceptance, as they are kept. */
export const measuredEvidenceSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('homing series'),
    ...evidence,
    payload: z.object({
      of: z.int(),
      homes: z.array(z.number()).readonly(),
      end: z.string(),
      by: z.enum(['drive', 'controller', 'gauge']).optional(),
    }),
  }),
  z.object({
    kind: z.literal('positioning'),
    ...evidence,
    payload: z.object({ targets: z.array(targetSchema).readonly() }),
  }),
  z.object({
    kind: z.literal('acceptance'),
    ...evidence,
    payload: z.object({
      verdict: z.enum(['passed', 'failed', 'not measured']),
      rows: z.array(acceptanceRowSchema).readonly(),
      runId: z.string().optional(),
    }),
  }),
]);
export type MeasuredEvidence = z.infer<typeof measuredEvidenceSchema>;
export type MeasuredHomes = Extract<MeasuredEvidence, { readonly kind: 'homing series' }>;
export type MeasuredPositions = Extract<MeasuredEvidence, { readonly kind: 'positioning' }>;
