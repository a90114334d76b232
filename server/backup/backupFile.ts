import { createHash, type Hash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { finished, pipeline } from 'node:stream/promises';
import { PassThrough, Readable } from 'node:stream';
import { createGunzip, createGzip } from 'node:zlib';
import { libraryEntrySchema, machineSchema, memberSchema } from '@kavrid/contract';
import type { DataSource, QueryRunner } from 'typeorm';
import { connectDatabase, migrationNames } from '../database/connectDatabase.ts';
import { tableOrder } from './tableOrder.ts';

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
    for (const tableName of tableOrder) {
      const stream: Readable = await runner.stream(`SELECT * FROM \`${tableName}\``);
      for await (const row of stream) {
        yield hashed({ table: tableName, row: inText(row as RowLine['row']) });
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
    // It holds everything: for the eyes of its owner only.
    await pipeline(lines, createGzip(), createWriteStream(part, { flush: true, mode: 0o600 }));
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

interface Verified extends End {
  readonly migrations: number;
}

/** Reads a backup to its end without changing anything. @throws BackupError */
async function verifyBackup(path: string): Promise<Verified> {
  const hash = createHash('sha256');
  let [rows, migrations, end]: [number, number, End | undefined] = [0, 0, undefined];
  let isFirst = true;
  for await (const line of linesOf(path, hash)) {
    if (isFirst) {
      if (!('format' in line) || line.format !== 'kavrid backup')
        throw new BackupError('This is not a backup of Kavrid.');
      migrations = line.migrations.length;
      if (line.formatVersion !== 1 || line.migrations.join() !== migrationNames.slice(0, migrations).join())
        throw new BackupError(
          'The backup was made by a newer version of Kavrid. Restore it with that version, or with a newer one.',
        );
      isFirst = false;
    } else if ('table' in line) {
      if (!tableOrder.includes(line.table))
        throw new BackupError(`The backup has a table “${line.table}” that is not known.`);
      rows++;
    } else if ('sha256' in line) end = line;
  }
  if (!end) throw new BackupError('The backup is not whole: its end is missing.');
  if (end.rows !== rows || end.sha256 !== hash.digest('hex'))
    throw new BackupError('The backup is damaged: its check sum is wrong.');
  return { ...end, migrations };
}

/**
 * Puts everything back as it was when the backup was made. It is made ready in a database beside: filled at the state of the
 * tables that the backup is of, brought up to date, and read row by row; only then is it put in the place of what is there,
 * in one transaction: either all of it, or nothing. What is in the database now is gone afterwards.
 * @param url of the database, whose account may make one called `…_scratch`
 * @returns the number of rows
 * @throws BackupError before anything is changed
 */
export async function restoreBackup(source: DataSource, url: string, path: string): Promise<number> {
  const { rows, migrations } = await verifyBackup(path);
  const database = decodeURIComponent(new URL(url).pathname.slice(1));
  const scratch = `${database}_scratch`;
  const scratchUrl = Object.assign(new URL(url), { pathname: `/${scratch}` }).href;
  await source.query(`DROP DATABASE IF EXISTS \`${scratch}\``);
  await source.query(`CREATE DATABASE \`${scratch}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  try {
    await fill(scratchUrl, migrations, path);
    await checkRows(scratchUrl);
    await swap(source, scratch);
  } finally {
    await source.query(`DROP DATABASE IF EXISTS \`${scratch}\``);
  }
  return rows;
}

async function fill(url: string, migrations: number, path: string): Promise<void> {
  const source = await connectDatabase(url, migrations);
  const runner = source.createQueryRunner();
  try {
    for (const table of tableOrder) await runner.query(`DELETE FROM \`${table}\``).catch(ignoreMissing);
    let batch: RowLine[] = [];
    const flush = async () => {
      const first = batch[0];
      if (first) await insert(source, runner, first.table, batch);
      batch = [];
    };
    for await (const line of linesOf(path, createHash('sha256'))) {
      if (!('table' in line)) continue;
      const isLarge = line.table === 'run_samples';
      if (isLarge || batch.length >= 20 || (batch[0] && batch[0].table !== line.table)) await flush();
      batch.push(line);
    }
    await flush();
  } finally {
    await runner.release();
    await source.destroy();
  }
}

/** A table that an older state does not have yet. */
const ignoreMissing = (error: unknown) => {
  if ((error as { code?: string }).code !== 'ER_NO_SUCH_TABLE') throw error;
};

/** Brings the scratch database up to date and reads what it holds. @throws BackupError for a row that cannot be read */
async function checkRows(url: string): Promise<void> {
  const source = await connectDatabase(url);
  try {
    const schemas = { axis: memberSchema, machine: machineSchema } as const;
    for (const [table, schema] of Object.entries(schemas)) {
      const rows = (await source.query(`SELECT id, document FROM \`${table}\``)) as readonly {
        id: string;
        document: string;
      }[];
      for (const { id, document } of rows) {
        const parsed = schema.safeParse(JSON.parse(document));
        const issue = parsed.success ? undefined : parsed.error.issues[0];
        if (issue)
          throw new BackupError(
            `The backup has a row of “${table}” that cannot be read: ${id}, ${issue.path.join('/')}: ${issue.message}.`,
          );
      }
    }
    for (const { id, shelf, document } of (await source.query(
      'SELECT id, shelf, document FROM library_entry',
    )) as readonly {
      id: string;
      shelf: string;
      document: string;
    }[])
      if (!libraryEntrySchema.safeParse({ shelf, entry: JSON.parse(document) as unknown }).success)
        throw new BackupError(`The backup has a library entry that cannot be read: ${id}.`);
  } finally {
    await source.destroy();
  }
}

async function swap(source: DataSource, scratch: string): Promise<void> {
  await source.transaction(async (manager) => {
    for (const table of [...tableOrder].reverse()) await manager.query(`DELETE FROM \`${table}\``);
    for (const table of tableOrder) {
      const columns = (
        (await manager.query(`SHOW COLUMNS FROM \`${table}\``)) as readonly { Field: string; Extra: string }[]
      )
        .filter(({ Extra }) => !/GENERATED/i.test(Extra))
        .map(({ Field }) => `\`${Field}\``)
        .join();
      await manager.query(`INSERT INTO \`${table}\` (${columns}) SELECT ${columns} FROM \`${scratch}\`.\`${table}\``);
    }
  });
}

async function insert(
  source: DataSource,
  runner: QueryRunner,
  table: string,
  batch: readonly RowLine[],
): Promise<void> {
  const known = source.entityMetadatas.find(({ tableName }) => tableName === table)?.columns ?? [];
  const moments = new Set(known.filter(({ type }) => type === 'datetime').map(({ databaseName }) => databaseName));
  const columns = Object.keys(batch[0]?.row ?? {});
  const fromJson = (name: string, value: unknown) =>
    moments.has(name) && value !== null ? new Date(value as string) : isBytes(value) ? bytesIn(value) : value;
  const values = batch.map(({ row }) => columns.map((name) => fromJson(name, row[name])));
  await runner.query(`INSERT INTO \`${table}\` (${columns.map((name) => `\`${name}\``).join()}) VALUES ?`, [values]);
}

/** Bytes as a line holds them: base64, or, in older backups, as JSON writes a Buffer. */
type Bytes = { readonly base64: string } | { readonly type: 'Buffer'; readonly data: readonly number[] };
const isBytes = (value: unknown): value is Bytes =>
  typeof value === 'object' && value !== null && ('base64' in value || ('type' in value && value.type === 'Buffer'));
const bytesIn = (value: Bytes): Buffer =>
  'base64' in value ? Buffer.from(value.base64, 'base64') : Buffer.from(value.data);
const inText = (row: RowLine['row']): RowLine['row'] =>
  Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      Buffer.isBuffer(value) ? { base64: value.toString('base64') } : value,
    ]),
  );
