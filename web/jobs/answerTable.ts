import {
  channelValues,
  readCsvTable,
  tableToTrace,
  type ColumnMapping,
  type TableReading,
  type Trace,
} from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { windowMeasures } from '@kavrid/core/trace';

/** A table of numbers is read, or made into a trace. */
export type TableWork =
  | { readonly kind: 'read'; readonly file: File }
  | { readonly kind: 'map'; readonly file: File; readonly mapping: ColumnMapping };
export type TableAnswer =
  | {
      readonly kind: 'table';
      readonly titles: readonly string[];
      /** Numbers of the first line. */
      readonly first: readonly string[];
      readonly unreadCells: number;
    }
  /** `ranges`: the lowest and highest of each channel. */
  | { readonly kind: 'trace'; readonly trace: Trace; readonly missing: number; readonly ranges: readonly string[] }
  | { readonly kind: 'refused'; readonly because: string };

let kept: { readonly file: string; readonly reading: TableReading } | undefined;

async function readingOf(file: File): Promise<TableReading> {
  const mark = `${file.name} ${file.size} ${file.lastModified}`;
  if (kept?.file !== mark) kept = { file: mark, reading: readCsvTable(await file.text()) };
  return kept.reading;
}

/** Reads a table, or makes a trace of it; the table is kept from one request to the next. */
export async function answerTable(work: TableWork): Promise<TableAnswer> {
  const reading = await readingOf(work.file);
  if (reading.kind === 'refused') return reading;
  const { table } = reading;
  if (work.kind === 'read') {
    const first = table.columns.map(([value = NaN]) => (Number.isNaN(value) ? '–' : formatNumber(value, 6)));
    return { kind: 'table', titles: table.titles, first, unreadCells: table.unreadCells };
  }
  const made = tableToTrace(table, work.mapping);
  if (made.kind === 'refused') return made;
  const ranges = made.trace.header.channels.map(({ id }) => {
    const measures = windowMeasures(channelValues(made.trace, id) ?? new Float64Array());
    return measures ? `${formatNumber(measures.least, 5)} to ${formatNumber(measures.greatest, 5)}` : 'none';
  });
  return { ...made, ranges };
}
