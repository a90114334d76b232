import { brokenText, brokenTextWords } from '../brokenText.ts';
import Papa from 'papaparse';
import { z } from 'zod';
import { idSchema } from '../fields.ts';
import { upgradeEntry2, upgradeEntry4, upgradeEntry5, upgradeEntry8 } from '../upgrades.ts';
import { libraryEntrySchema, libraryKinds, type LibraryEntry, type LibraryKind } from './libraryEntry.ts';

export const libraryFileVersion = 5;

/** The library, or part of it, in a file. */
export const libraryFileSchema = z.strictObject({
  format: z.literal('kavrid library'),
  formatVersion: z.literal(libraryFileVersion),
  entries: z.array(z.strictObject({ id: idSchema.optional(), item: libraryEntrySchema })).max(5000),
});
export type LibraryFile = z.infer<typeof libraryFileSchema>;

export type LibraryReading =
  | { readonly kind: 'entries'; readonly entries: LibraryFile['entries'] }
  | { readonly kind: 'refused'; readonly problems: readonly string[] };

/** Reads a library file, JSON or CSV, whichever the text is. */
export const readLibrary = (text: string): LibraryReading =>
  /^\s*\{/.test(text) ? readLibraryJson(text) : readLibraryCsv(text);

function readLibraryJson(text: string): LibraryReading {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return {
      kind: 'refused',
      problems: [`This is not JSON: ${error instanceof Error ? error.message : 'unreadable'}`],
    };
  }
  const broken = brokenText(value);
  if (broken !== undefined) return { kind: 'refused', problems: [`${broken}: ${brokenTextWords}`] };
  const parsed = libraryFileSchema.safeParse(upgradeLibrary(value));
  return parsed.success
    ? { kind: 'entries', entries: parsed.data.entries }
    : {
        kind: 'refused',
        problems: parsed.error.issues
          .slice(0, 50)
          .map((issue) => `${issue.path.join('/') || 'file'}: ${issue.message}`),
      };
}

/** What brings the entries of a library file of a version to the next one. */
const upgrades: Readonly<Record<number, (item: unknown) => unknown>> = {
  1: upgradeEntry2,
  2: upgradeEntry4,
  3: upgradeEntry5,
  4: upgradeEntry8,
};

/** Brings a library file of an older version to the present one. */
function upgradeLibrary(value: unknown): unknown {
  const file = value as { readonly formatVersion?: unknown; readonly entries?: unknown } | null;
  if (typeof file !== 'object' || typeof file?.formatVersion !== 'number' || !Array.isArray(file.entries)) return value;
  const upgrade = upgrades[file.formatVersion];
  if (!upgrade) return value;
  const entries = file.entries.map((each: { readonly item?: unknown } | null) =>
    each && typeof each === 'object' ? { ...each, item: upgrade(each.item) } : each,
  );
  return upgradeLibrary({ ...file, formatVersion: file.formatVersion + 1, entries });
}

/**
 * Entries of one shelf as a table: a line an entry, a column a field. Lists and groups of fields stand as JSON in their
 * cell; an empty cell is a value that is not known.
 */
export function libraryToCsv(items: readonly LibraryEntry[]): string {
  const rows = items.map(({ shelf, entry }) => ({
    shelf,
    ...Object.fromEntries(Object.entries(entry).map(([field, value]) => [field, cellOf(value)])),
  }));
  const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  return Papa.unparse({
    fields: columns,
    data: rows.map((row: Record<string, string>) => columns.map((c) => row[c] ?? '')),
  });
}

/** Text that a spreadsheet would take for a formula, or that has been guarded already. */
const formulaLike = /^'*[=+\-@\t\r]/;
const guarded = (text: string) => (formulaLike.test(text) ? `'${text}` : text);
const unguarded = (cell: string) => (cell.startsWith("'") && formulaLike.test(cell) ? cell.slice(1) : cell);

const cellOf = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'string' ? guarded(value) : JSON.stringify(value);

function readLibraryCsv(text: string): LibraryReading {
  const table = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true });
  if (table.data.length === 0) return { kind: 'refused', problems: ['The file has no line below its header.'] };
  if (!table.meta.fields?.includes('shelf'))
    return { kind: 'refused', problems: [`A column “shelf” is needed; it says ${libraryKinds.join(', ')}.`] };
  const problems = table.errors.slice(0, 20).map((error) => `Row ${(error.row ?? 0) + 2}: ${error.message}.`);
  const entries: { item: LibraryEntry }[] = [];
  for (const [index, { shelf, ...cells }] of table.data.slice(0, 5000).entries()) {
    const read = readRow(shelf as LibraryKind, cells);
    if (read.success) entries.push({ item: read.data });
    else
      problems.push(
        ...read.error.issues.map(
          (issue) => `Row ${index + 2}, ${issue.path.slice(1).join('/') || 'row'}: ${issue.message}.`,
        ),
      );
  }
  return problems.length > 0 ? { kind: 'refused', problems: problems.slice(0, 50) } : { kind: 'entries', entries };
}

const newestColumn: Readonly<Record<LibraryKind, string>> = {
  motor: 'windingResistance',
  drive: 'gearSets',
  controller: 'outputDrop',
  cable: 'pins',
  'spindle motor': 'power',
  'spindle drive': 'registers',
};

/** Cells are text; those of which the schema says that they are something else are read as JSON, empty ones as null. */
function readRow(shelf: LibraryKind, cells: Readonly<Record<string, string>>) {
  let entry: Record<string, unknown> = Object.fromEntries(
    Object.entries(cells).map(([field, cell]) => [field, unguarded(cell)]),
  );
  // Columns of other forms of an entry are empty here.
  const known = (fields: ReadonlySet<string>) =>
    Object.fromEntries(Object.entries(entry).filter(([field, value]) => value !== '' || !fields.has(field)));
  // A table from before a column was there is brought up to date as a file would be.
  const isOlder = !(newestColumn[shelf] in cells);
  for (let pass = 0; ; pass++) {
    const row = { shelf, entry };
    const parsed = libraryEntrySchema.safeParse(upgradeEntry8(upgradeEntry4(isOlder ? upgradeEntry2(row) : row)));
    if (parsed.success || pass === 3) return parsed;
    const unrecognised = new Set(
      parsed.error.issues.flatMap((issue) => (issue.code === 'unrecognized_keys' ? issue.keys : [])),
    );
    entry = known(unrecognised);
    for (const { code, path } of parsed.error.issues) {
      const field = String(path[1]);
      const cell = entry[field];
      if (code !== 'invalid_type') continue;
      // A column that is not there says that its values are not known.
      if (cell === undefined) entry[field] = null;
      else if (typeof cell === 'string') entry[field] = jsonCell(cell);
    }
  }
}

function jsonCell(cell: string): unknown {
  if (cell.trim() === '') return null;
  try {
    return JSON.parse(cell) as unknown;
  } catch {
    return cell;
  }
}
