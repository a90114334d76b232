import { z } from 'zod';
import { channelsOf } from './channels.ts';
import { packSamples, type Channel, type Trace } from './traceHeader.ts';

const earlierSchema = z.strictObject({
  period: z.number().positive().max(60),
  channels: z.record(z.string(), z.array(z.number()).max(2_000_000).readonly()),
});

export type EarlierReading =
  { readonly kind: 'trace'; readonly trace: Trace } | { readonly kind: 'refused'; readonly because: string };

/** A trace as it was kept up to format version 4: JSON, numbers in the units of the axis. */
export const isEarlierTrace = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && 'channels' in value && !Array.isArray(value.channels);

/** Turns such a trace into one of today. @param axisUnit of the axis it was recorded of */
export function readEarlierTrace(value: unknown, axisUnit: string): EarlierReading {
  const channels = (value as { readonly channels?: unknown } | null)?.channels;
  const kind = typeof channels === 'object' && channels !== null && 'hertz' in channels ? 'spindle' : 'axis';
  const parsed = earlierSchema.safeParse(value);
  if (!parsed.success) {
    const issues = parsed.error.issues.slice(0, 3).map((issue) => `${issue.path.join('/')}: ${issue.message}`);
    return { kind: 'refused', because: issues.join(' ') };
  }
  const wanted = Object.keys(channelsOf[kind]);
  const planes = wanted.flatMap((id) => (parsed.data.channels[id] ? [[id, parsed.data.channels[id]] as const] : []));
  if (planes.length !== wanted.length || Object.keys(parsed.data.channels).length !== wanted.length)
    return { kind: 'refused', because: `The channels of this trace should be ${wanted.join(', ')}.` };
  if (new Set(planes.map(([, plane]) => plane.length)).size > 1)
    return { kind: 'refused', because: 'The channels of a trace are of equal length.' };
  const described = planes.map(([id]): Channel => {
    const { label = id, unit = '' } = channelsOf[kind][id] ?? {};
    return { id, label, unit: unit.replace('{u}', axisUnit), scale: 1, format: 'float64' };
  });
  return {
    kind: 'trace',
    trace: {
      header: { period: parsed.data.period, count: planes[0]?.[1].length ?? 0, channels: described },
      samples: packSamples(
        described,
        planes.map(([, plane]) => plane),
      ),
    },
  };
}
