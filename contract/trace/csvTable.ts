import Papa from 'papaparse';

/** A table of numbers as somebody's controller or oscilloscope wrote it. */
export interface CsvTable {
  /** '' where a column has none. */
  readonly titles: readonly string[];
  /** Numbers by column; NaN where a cell is empty or holds no number. */
  readonly columns: readonly Float64Array[];
  /** Line of the file, from 1, in which the first numbers stand. */
  readonly firstLine: number;
  /** Cells that hold something else than a number. */
  readonly unreadCells: number;
}

export type TableReading =
  { readonly kind: 'table'; readonly table: CsvTable } | { readonly kind: 'refused'; readonly because: string };

/** Columns that a table may have. */
const mostColumns = 64;

/** Title lines before the numbers. */
const mostTitleLines = 100;

/**
 * Reads a table of numbers, mostly: comma, semicolon or tab between the cells, point or comma as decimal mark, lines of words before the
 * numbers; the last of those with as many cells gives the titles.
 */
export function readCsvTable(text: string): TableReading {
  const { data } = Papa.parse<readonly string[]>(text.replace(/^\uFEFF/, ''), {
    delimitersToGuess: [';', '\t', ','],
    skipEmptyLines: 'greedy',
  });
  const comma = hasDecimalComma(data);
  const isNumbers = (cells: readonly string[]) => {
    const read = cells.filter((cell) => cell.trim() !== '').map((cell) => numberOf(cell, comma));
    return 2 * read.filter((value) => !Number.isNaN(value)).length > read.length;
  };
  // A setting of the recorder stands in a line of its own width.
  const start = data
    .slice(0, mostTitleLines)
    .findIndex((cells, k) => isNumbers(cells) && (data[k + 1]?.length ?? cells.length) === cells.length);
  const first = data[start];
  if (start < 0 || !first)
    return { kind: 'refused', because: `There is no line of numbers among the first ${mostTitleLines} lines.` };
  const width = first.length;
  if (width > mostColumns) return { kind: 'refused', because: `It has ${width} columns; ${mostColumns} can be read.` };
  const titles =
    data
      .slice(0, start)
      .reverse()
      .find((cells) => cells.length === width) ?? [];
  const rows = data.slice(start);
  let unreadCells = 0;
  const columns = Array.from({ length: width }, (_, k) =>
    Float64Array.from(rows, (cells) => {
      const cell = cells[k]?.trim() ?? '';
      const value = cell === '' ? NaN : numberOf(cell, comma);
      if (cell !== '' && Number.isNaN(value)) unreadCells++;
      return value;
    }),
  );
  return {
    kind: 'table',
    table: { titles: first.map((_, k) => titles[k]?.trim() ?? ''), columns, firstLine: start + 1, unreadCells },
  };
}

/** A comma within a cell, and no cell with a point: the comma is the decimal mark. */
function hasDecimalComma(rows: readonly (readonly string[])[]): boolean {
  const cells = rows.slice(0, 200).flat();
  return (
    cells.some((cell) => /^\s*[-+]?\d*,\d+(e[-+]?\d+)?\s*$/i.test(cell)) && !cells.some((cell) => /\d\.\d/.test(cell))
  );
}

const numeral = /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i;

function numberOf(cell: string, comma: boolean): number {
  const plain = comma ? cell.trim().replace(',', '.') : cell.trim();
  return numeral.test(plain) ? Number(plain) : NaN;
}
