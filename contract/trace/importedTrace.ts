import { z } from 'zod';
import { line } from '../fields.ts';
import { bytesOf, traceHeaderSchema, type Trace } from './traceHeader.ts';

/** What goes before the samples of a trace that is brought in. */
const importedSchema = z.strictObject({
  name: line(80).min(1),
  notes: z.string().max(2000),
  header: traceHeaderSchema,
});
export type Imported = Omit<z.infer<typeof importedSchema>, 'header'> & { readonly trace: Trace };

/** Bytes that the line before the samples may take. */
const mostLine = 64 * 1024;

/** A line of JSON, a line feed, and the samples. */
export function packImported({ name, notes, trace: { header, samples } }: Imported): Uint8Array<ArrayBuffer> {
  const line = new TextEncoder().encode(`${JSON.stringify({ name, notes, header })}\n`);
  const packed = new Uint8Array(line.length + samples.length);
  packed.set(line);
  packed.set(samples, line.length);
  return packed;
}

/** @returns what is wrong with it, or what was packed */
export function readImported(bytes: Uint8Array): Imported | { readonly because: string } {
  const end = bytes.subarray(0, mostLine).indexOf(10);
  if (end < 0) return { because: 'It should begin with a line of JSON that says what the trace is of.' };
  let said: unknown;
  try {
    said = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, end)));
  } catch {
    return { because: 'Its first line is not JSON.' };
  }
  const parsed = importedSchema.safeParse(said);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return { because: `${issue?.path.join('/') ?? ''}: ${issue?.message ?? ''}` };
  }
  const { header, ...named } = parsed.data;
  const samples = bytes.subarray(end + 1);
  if (samples.length !== bytesOf(header))
    return { because: `Its samples take ${samples.length} bytes, but ${bytesOf(header)} are described.` };
  return { ...named, trace: { header, samples } };
}
