import { z } from 'zod';
import { line } from '../fields.ts';

const bytesPerSample = { int32: 4, float64: 8 } as const;

/** A channel of a trace, with everything needed to read it. */
export const channelSchema = z.strictObject({
  id: z.string().regex(/^[A-Za-z][A-Za-z0-9]{0,39}$/, 'A channel is named by letters and digits.'),
  label: line(60).min(1),
  unit: line(20),
  /** value = sample · scale */
  scale: z.number(),
  format: z.enum(['int32', 'float64']),
});
export type Channel = z.infer<typeof channelSchema>;

/** Bytes that the samples of a trace may take. */
export const mostTraceBytes = 128 * 2 ** 20;

/**
 * What a trace is of. Its samples are binary: the channels one after the other in this order, each `count` samples in its
 * format, little-endian. Sample k is at (k − before) · period after the trigger.
 */
export const traceHeaderSchema = z
  .strictObject({
    /** s */
    period: z.number().positive().max(60),
    count: z.int().min(0).max(16_000_000),
    /** Samples before the trigger; absent: none. */
    before: z.int().min(0).max(16_000_000).optional(),
    channels: z.array(channelSchema).min(1).max(64).readonly(),
    /** Mark of the device that recorded it; absent: not known. */
    identity: line(60).optional(),
  })
  .refine(({ channels }) => new Set(channels.map(({ id }) => id)).size === channels.length, {
    message: 'Two channels of the trace have the same name.',
  })
  .refine(({ before = 0, count }) => before <= count, {
    message: 'More samples are said to be before the trigger than the trace has.',
  })
  .refine((header) => bytesOf(header) <= mostTraceBytes, {
    message: `The samples of a trace take at most ${mostTraceBytes / 2 ** 20} MB.`,
  });
export type TraceHeader = z.infer<typeof traceHeaderSchema>;

/** A trace with its samples. */
export interface Trace {
  readonly header: TraceHeader;
  readonly samples: Uint8Array;
}

export function bytesOf({
  count,
  channels,
}: {
  readonly count: number;
  readonly channels: readonly Channel[];
}): number {
  return channels.reduce((sum, { format }) => sum + count * bytesPerSample[format], 0);
}

/** s of the first sample, about the trigger. */
export const startOfTrace = ({ before = 0, period }: TraceHeader): number => (before === 0 ? 0 : -before * period);

/** A whole number in place of a sample that could not be had; its value is no number. */
export const missingSample = -(2 ** 31);

/** The values of a channel in its unit, NaN where a sample is missing; undefined when the trace does not have it. */
export function channelValues({ header, samples }: Trace, id: string): Float64Array | undefined {
  const { count, channels } = header;
  const index = channels.findIndex((each) => each.id === id);
  const channel = channels[index];
  if (!channel) return undefined;
  const { scale, format } = channel;
  const view = new DataView(samples.buffer, samples.byteOffset, samples.byteLength);
  const start = bytesOf({ count, channels: channels.slice(0, index) });
  const values = new Float64Array(count);
  if (format === 'int32')
    for (let k = 0; k < count; k++) {
      const raw = view.getInt32(start + 4 * k, true);
      values[k] = raw === missingSample ? NaN : raw * scale;
    }
  else for (let k = 0; k < count; k++) values[k] = view.getFloat64(start + 8 * k, true) * scale;
  return values;
}

/** What of the samples of a channel is from the trigger on. */
export const sinceTrigger = ({ before = 0 }: TraceHeader, values: Float64Array): Float64Array =>
  values.subarray(before);

/** The binary form of channels, in their order. @param planes of equal length, in the formats of the channels */
export function packSamples(channels: readonly Channel[], planes: readonly ArrayLike<number>[]): Uint8Array {
  const count = planes[0]?.length ?? 0;
  const samples = new Uint8Array(bytesOf({ count, channels }));
  const view = new DataView(samples.buffer);
  let at = 0;
  channels.forEach(({ format }, index) => {
    const plane = planes[index] ?? [];
    for (let k = 0; k < count; k++, at += bytesPerSample[format])
      if (format === 'int32') view.setInt32(at, plane[k] ?? 0, true);
      else view.setFloat64(at, plane[k] ?? 0, true);
  });
  return samples;
}
