import Papa from 'papaparse';
import { channelValues, startOfTrace, type Trace } from './traceHeader.ts';

/** Lines made at once. */
const piece = 2000;

/** A sample that is missing is an empty cell. */
const cell = (value = NaN): string => (Number.isNaN(value) ? '' : String(Number(value.toPrecision(12))));

/** A trace as RFC 4180 CSV, piece by piece: a line a sample, the time in s first. */
export function* traceToCsv(trace: Trace): Generator<string> {
  const { period, count, channels } = trace.header;
  const titles = channels.map(({ label, unit }) => (unit === '' ? label : `${label} (${unit})`));
  yield `${Papa.unparse([['Time (s)', ...titles]], { escapeFormulae: true })}\r\n`;
  const start = startOfTrace(trace.header);
  const columns = channels.map(({ id }) => channelValues(trace, id) ?? new Float64Array(count));
  for (let from = 0; from < count; from += piece) {
    let lines = '';
    for (let k = from; k < Math.min(count, from + piece); k++) {
      lines += Number((start + k * period).toPrecision(12));
      for (const column of columns) lines += `,${cell(column[k])}`;
      lines += '\r\n';
    }
    yield lines;
  }
}
