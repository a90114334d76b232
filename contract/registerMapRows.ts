import Papa from 'papaparse';

/** The columns of a register map, in the order in which they are written. */
export const mapColumns = [
  'kind',
  'key',
  'label',
  'group',
  'role',
  'object',
  'type',
  'scale',
  'unit',
  'minimum',
  'maximum',
  'factory',
  'takesEffect',
  'address',
  'running',
  'stored',
  'factoryAddress',
  'choices',
  'help',
  'bits',
  'function',
] as const;
export type MapColumn = (typeof mapColumns)[number];

/** A row of a register map as it is written: every cell a text. */
export type MapRow = Readonly<Record<MapColumn, string>>;

export const blankMapRow: MapRow = Object.fromEntries(mapColumns.map((column) => [column, ''])) as MapRow;

/** The rows of a register map, to be edited; cells of columns that a map does not have are empty. */
export function readMapRows(csv: string): readonly MapRow[] {
  const { data } = Papa.parse<string[]>(csv.replace(/^\uFEFF/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    skipEmptyLines: 'greedy',
  });
  const head = (data[0] ?? []).map((title) => title.trim());
  const place = (column: MapColumn) => head.indexOf(column);
  return data
    .slice(1)
    .map((cells) => Object.fromEntries(mapColumns.map((each) => [each, (cells[place(each)] ?? '').trim()])) as MapRow);
}

/** The same rows as a file, with every column. */
export const writeMapRows = (rows: readonly MapRow[]): string =>
  Papa.unparse({ fields: [...mapColumns], data: rows.map((row) => mapColumns.map((column) => row[column])) });
