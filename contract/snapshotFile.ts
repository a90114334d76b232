import { fromRaw, isInRange, toRaw, type DriveParameter, type RawValues } from '@kavrid/core/drive';
import Papa from 'papaparse';

const columns = ['key', 'label', 'unit', 'value', 'raw'] as const;
const mostProblems = 20;

/** Drive values as CSV, one row a value: its key, label, unit, value in that unit, and the raw value of the register. */
export const writeSnapshotFile = (parameters: readonly DriveParameter[], values: RawValues): string =>
  Papa.unparse({
    fields: [...columns],
    data: parameters.flatMap((parameter) => {
      const raw = values[parameter.key];
      return raw === undefined
        ? []
        : [[parameter.key, parameter.label, parameter.unit, fromRaw(parameter, raw), raw].map(String)];
    }),
  });

export type SnapshotFileResult =
  | { readonly kind: 'values'; readonly values: RawValues }
  | { readonly kind: 'refused'; readonly problems: readonly string[] };

/**
 * Reads drive values from CSV with the columns `key` and `value` or `raw`; others are passed over. Every key has to be in the
 * register map, and every value within its range; where both are given, value and raw have to agree.
 */
export function readSnapshotFile(parameters: readonly DriveParameter[], text: string): SnapshotFileResult {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimitersToGuess: [',', ';', '\t'] });
  const head = (data[0] ?? []).map((title) => title.trim().toLowerCase());
  const places = { key: head.indexOf('key'), value: head.indexOf('value'), raw: head.indexOf('raw') };
  if (places.key < 0 || (places.value < 0 && places.raw < 0))
    return { kind: 'refused', problems: ['The first line has to name the columns: key, and value or raw.'] };
  const rows = data.flatMap((cells, index) =>
    index === 0 || cells.every((cell) => cell.trim() === '')
      ? []
      : [{ line: index + 1, key: cellAt(cells, places.key), ...valueCells(cells, places) }],
  );
  const values: Record<string, number> = {};
  const problems: string[] = [];
  for (const row of rows) {
    const parameter = parameters.find((each) => each.key === row.key);
    const problem = !parameter
      ? `the register map has no value “${row.key}”`
      : values[row.key] !== undefined
        ? `“${row.key}” is given twice`
        : takeRow(parameter, row, values);
    if (problem !== undefined) problems.push(`Line ${row.line}: ${problem}.`);
  }
  if (problems.length > 0) return { kind: 'refused', problems: problems.slice(0, mostProblems) };
  if (rows.length === 0) return { kind: 'refused', problems: ['The file has no values.'] };
  return { kind: 'values', values };
}

const cellAt = (cells: readonly string[], place: number) => (cells[place] ?? '').trim();
const valueCells = (cells: readonly string[], { value, raw }: { readonly value: number; readonly raw: number }) => ({
  value: cellAt(cells, value),
  raw: cellAt(cells, raw),
});

const plainNumber = /^[+-]?\d+(\.\d+)?([eE][+-]?\d+)?$/;

/** @returns what is wrong with a row */
function takeRow(
  parameter: DriveParameter,
  { value, raw }: { readonly value: string; readonly raw: string },
  values: Record<string, number>,
): string | undefined {
  for (const text of [value, raw])
    if (text !== '' && !plainNumber.test(text)) return `“${text}” is not a number with a decimal point`;
  const given = value === '' ? undefined : toRaw(parameter, Number(value));
  if (given && 'because' in given) return given.because;
  const whole = raw === '' ? given?.raw : Number(raw);
  if (whole === undefined) return `${parameter.label} has neither value nor raw value`;
  if (!Number.isInteger(whole) || !isInRange(parameter, whole))
    return `${parameter.label}: ${raw} is not a raw value within its range`;
  if (given && given.raw !== whole) return `${parameter.label}: ${value} would be ${given.raw} raw, not ${whole}`;
  values[parameter.key] = whole;
  return undefined;
}
