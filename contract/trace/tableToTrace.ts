import { packSamples, bytesOf, mostTraceBytes, traceHeaderSchema, type Channel, type Trace } from './traceHeader.ts';
import type { CsvTable } from './csvTable.ts';

/** What the columns of a table are. */
export interface ColumnMapping {
  /** The column of the time with s in one of its units; or s from line to line. */
  readonly time:
    { readonly column: number; readonly seconds: number } | { readonly column: undefined; readonly period: number };
  readonly channels: readonly {
    readonly column: number;
    readonly id: string;
    readonly label: string;
    readonly unit: string;
    /** Unit of the channel in one of the column's. */
    readonly scale: number;
  }[];
}

export type MappingResult =
  | { readonly kind: 'trace'; readonly trace: Trace; readonly missing: number }
  | { readonly kind: 'refused'; readonly because: string };

/** By how much of the period a time may be off its place: times are rounded, to 0.1 ms in a trace of a kilohertz. */
const jitter = 0.2;

/**
 * A trace of the columns of a table. Times must be evenly spaced, up to lines that are missing: these become missing samples, and no
 * value is moved in time.
 */
export function tableToTrace(table: CsvTable, mapping: ColumnMapping): MappingResult {
  const refused = (because: string) => ({ kind: 'refused', because }) as const;
  const rows = table.columns[0]?.length ?? 0;
  if (mapping.channels.length === 0) return refused('Choose at least one column as a channel.');
  if (rows < 2) return refused('A trace has two lines of numbers at least.');
  const { time } = mapping;
  const placed =
    time.column === undefined
      ? { period: time.period, places: undefined, before: 0 }
      : placesOf(table.columns[time.column] ?? new Float64Array(), time.seconds, table.firstLine);
  if ('because' in placed) return refused(placed.because);
  const { period, places, before } = placed;
  if (!(period > 0)) return refused('The sample period should be above 0 s.');
  const count = places ? (places.at(-1) ?? 0) + 1 : rows;
  const channels = mapping.channels.map(({ id, label, unit }): Channel => ({
    id,
    label,
    unit,
    scale: 1,
    format: 'float64',
  }));
  const header = traceHeaderSchema.safeParse({ period, count, channels, ...(before > 0 ? { before } : {}) });
  if (bytesOf({ count, channels }) > mostTraceBytes)
    return refused(`With the lines that are missing it would take more than ${mostTraceBytes / 2 ** 20} MB.`);
  if (!header.success) return refused(header.error.issues[0]?.message ?? 'The columns do not make a trace.');
  const planes = mapping.channels.map(({ column, scale }) => {
    const plane = new Float64Array(count).fill(NaN);
    const values = table.columns[column] ?? new Float64Array();
    for (let k = 0; k < rows; k++) plane[places ? (places[k] ?? 0) : k] = (values[k] ?? NaN) * scale;
    return plane;
  });
  return {
    kind: 'trace',
    trace: { header: header.data, samples: packSamples(channels, planes) },
    missing: count - rows,
  };
}

/** The sample of each line by its time, and how many lie before time zero. */
function placesOf(
  times: Float64Array,
  seconds: number,
  firstLine: number,
): { readonly period: number; readonly places: Int32Array; readonly before: number } | { readonly because: string } {
  const steps: number[] = [];
  for (let k = 1; k < times.length; k++) {
    const step = (times[k] ?? NaN) - (times[k - 1] ?? NaN);
    if (!(step > 0)) return { because: `The time does not go on from line ${firstLine + k - 1} to the next.` };
    steps.push(step);
  }
  const median = steps.toSorted((a, b) => a - b)[steps.length >> 1] ?? 0;
  // Times are rounded in the file: over the whole length the period is known better than from one step.
  const whole = steps.reduce((sum, step) => sum + Math.max(1, Math.round(step / median)), 0);
  const period = ((times.at(-1) ?? 0) - (times[0] ?? 0)) / whole;
  const places = new Int32Array(times.length);
  for (let k = 0; k < times.length; k++) {
    const place = ((times[k] ?? 0) - (times[0] ?? 0)) / period;
    const nearest = Math.round(place);
    if (Math.abs(place - nearest) > jitter)
      return {
        because: `The times are not evenly spaced: line ${firstLine + k} is off its place by ${Math.round(100 * Math.abs(place - nearest))} % of the sample period of ${Number((period * seconds).toPrecision(4))} s.`,
      };
    if (k > 0 && nearest <= (places[k - 1] ?? 0))
      return { because: `Two lines have the same time: line ${firstLine + k - 1} and the next.` };
    places[k] = nearest;
  }
  // Time zero is the trigger where the times pass through it, to the nearest sample.
  const toZero = Math.round(-(times[0] ?? 0) / period);
  return { period: period * seconds, places, before: toZero > 0 && toZero <= (places.at(-1) ?? 0) ? toZero : 0 };
}
