import { createHash, type Hash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { finished, pipeline } from 'node:stream/promises';
import { PassThrough, Readable } from 'node:stream';
import { createGunzip, createGzip } from 'node:zlib';
import type { DataSource, EntityMetadata, QueryRunner } from 'typeorm';

// A backup is gzipped JSON Lines: a head, a line a row, and an end with the number of rows and the check sum of all lines.

interface Head {
  readonly format: 'kavrid backup';
  readonly formatVersion: 1;
  readonly at: string;
  /** The state of the tables it was taken from. */
  readonly migrations: readonly string[];
}
interface RowLine {
  readonly table: string;
  readonly row: Readonly<Record<string, unknown>>;
}
interface End {
  readonly rows: number;
  readonly sha256: string;
}

/** A backup that cannot be restored, in words. Nothing has been changed then. */
export class BackupError extends Error {}

const migrationsOf = async (source: DataSource): Promise<readonly string[]> =>
  ((await source.query('SELECT name FROM migrations ORDER BY id')) as readonly { name: string }[]).map(
    ({ name }) => name,
  );

/** Machines before their axes, axes before their runs. */
const tablesOf = (source: DataSource): readonly EntityMetadata[] => {
  const order = [
    'machine',
    'machine_tag',
    'axis',
    'revision',
    'library_entry',
    'drive_profile',
    'run',
    'temporary_setting',
  ];
  return [...source.entityMetadatas].sort((a, b) => order.indexOf(a.tableName) - order.indexOf(b.tableName));
};

/** Every line of a backup as the database stands at one moment, whatever is saved meanwhile. */
async function* backupLines(source: DataSource, count: () => void): AsyncGenerator<string> {
  const hash = createHash('sha256');
  const hashed = (value: Head | RowLine) => {
    const line = `${JSON.stringify(value)}\n`;
    hash.update(line);
    return line;
  };
  const runner = source.createQueryRunner();
  let rows = 0;
  try {
    await runner.query('START TRANSACTION WITH CONSISTENT SNAPSHOT');
    const migrations = await migrationsOf(source);
    yield hashed({ format: 'kavrid backup', formatVersion: 1, at: new Date().toISOString(), migrations });
    for (const { tableName } of tablesOf(source)) {
      const stream: Readable = await runner.stream(`SELECT * FROM \`${tableName}\``);
      for await (const row of stream) {
        yield hashed({ table: tableName, row: row as RowLine['row'] });
        rows++;
        count();
      }
    }
    await runner.query('COMMIT');
    const end: End = { rows, sha256: hash.digest('hex') };
    yield `${JSON.stringify(end)}\n`;
  } finally {
    await runner.release();
  }
}

/**
 * Writes everything that is kept to one file while others go on reading and saving. The file appears under its name only
 * when it is whole and on the disk.
 * @returns the number of rows
 */
export async function writeBackup(source: DataSource, path: string): Promise<number> {
  const part = `${path}.part`;
  let rows = 0;
  try {
    const lines = Readable.from(backupLines(source, () => rows++));
    await pipeline(lines, createGzip(), createWriteStream(part, { flush: true }));
    await rename(part, path);
    return rows;
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}

/** Lines of a backup, each checked to be JSON. @throws BackupError for a file that is damaged or none of ours */
async function* linesOf(path: string, hash: Hash): AsyncGenerator<Head | RowLine | End> {
  const text = new PassThrough();
  const reading = pipeline(createReadStream(path), createGunzip(), text);
  reading.catch(() => text.end());
  try {
    for await (const line of createInterface({ input: text, crlfDelay: Infinity })) {
      let value: Head | RowLine | End;
      try {
        value = JSON.parse(line) as Head | RowLine | End;
      } catch {
        throw new BackupError('The backup is damaged: a line of it cannot be read.');
      }
      if (!('sha256' in value)) hash.update(`${line}\n`);
      yield value;
    }
    await reading;
    await finished(text).catch(() => undefined);
  } catch (error) {
    if (error instanceof BackupError) throw error;
    throw new BackupError(`The backup cannot be read: ${error instanceof Error ? error.message : String(error)}.`);
  }
}

/** Reads a backup to its end without changing anything. @throws BackupError */
async function verifyBackup(source: DataSource, path: string): Promise<End> {
  const hash = createHash('sha256');
  const known = await migrationsOf(source);
  const tables = new Set(tablesOf(source).map(({ tableName }) => tableName));
  let [rows, end]: [number, End | undefined] = [0, undefined];
  let isFirst = true;
  for await (const line of linesOf(path, hash)) {
    if (isFirst) {
      if (!('format' in line) || line.format !== 'kavrid backup')
        throw new BackupError('This is not a backup of Kavrid.');
      if (line.formatVersion !== 1 || line.migrations.join() !== known.join())
        throw new BackupError(
          `The backup was made by ${line.migrations.length > known.length ? 'a newer' : 'another'} version of Kavrid. Restore it with that version, then start this one on its database.`,
        );
      isFirst = false;
    } else if ('table' in line) {
      if (!tables.has(line.table)) throw new BackupError(`The backup has a table “${line.table}” that is not known.`);
      rows++;
    } else if ('sha256' in line) end = line;
  }
  if (!end) throw new BackupError('The backup is not whole: its end is missing.');
  if (end.rows !== rows || end.sha256 !== hash.digest('hex'))
    throw new BackupError('The backup is damaged: its check sum is wrong.');
  return end;
}

/**
 * Puts everything back as it was when the backup was made, in one transaction: either all of it, or nothing. What is in
 * the database now is gone afterwards.
 * @returns the number of rows
 * @throws BackupError before anything is changed
 */
export async function restoreBackup(source: DataSource, path: string): Promise<number> {
  const { rows } = await verifyBackup(source, path);
  const tables = tablesOf(source);
  await source.transaction(async ({ queryRunner }) => {
    if (!queryRunner) throw new Error('a transaction has a query runner');
    for (const { tableName } of [...tables].reverse()) await queryRunner.query(`DELETE FROM \`${tableName}\``);
    let batch: RowLine[] = [];
    const flush = async () => {
      const first = batch[0];
      const table = tables.find(({ tableName }) => tableName === first?.table);
      if (table) await insert(queryRunner, table, batch);
      batch = [];
    };
    for await (const line of linesOf(path, createHash('sha256'))) {
      if (!('table' in line)) continue;
      if (batch.length >= 20 || (batch[0] && batch[0].table !== line.table)) await flush();
      batch.push(line);
    }
    await flush();
  });
  return rows;
}

async function insert(runner: QueryRunner, table: EntityMetadata, batch: readonly RowLine[]): Promise<void> {
  const moments = new Set(
    table.columns.filter(({ type }) => type === 'datetime').map(({ databaseName }) => databaseName),
  );
  const columns = Object.keys(batch[0]?.row ?? {});
  const fromJson = (name: string, value: unknown) =>
    moments.has(name) ? new Date(value as string) : isBytes(value) ? Buffer.from(value.data) : value;
  const values = batch.map(({ row }) => columns.map((name) => fromJson(name, row[name])));
  await runner.query(`INSERT INTO \`${table.tableName}\` (${columns.map((name) => `\`${name}\``).join()}) VALUES ?`, [
    values,
  ]);
}

/** How JSON writes a Buffer. */
const isBytes = (value: unknown): value is { readonly type: 'Buffer'; readonly data: readonly number[] } =>
  typeof value === 'object' && value !== null && 'type' in value && value.type === 'Buffer';
