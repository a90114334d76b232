import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, statSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { AxisRecord, MachinePage, ProfileRecord, RunRecord, RunSummary } from '@kavrid/contract';
import { describe, expect, it, vi } from 'vitest';
import { demoAxis, newDatabase, startServer, useServer, type TestServer } from '../test/testServer.ts';
import { channelsOfRun, traceOf } from '../test/traces.ts';
import { restoreBackup, writeBackup } from './backupFile.ts';
import { checkTableOrder, tableOrder } from './tableOrder.ts';

const test = useServer();
const folder = mkdtempSync(join(tmpdir(), 'kavrid-backup-'));
const contents = async (store: typeof test.store) =>
  Object.fromEntries(
    await Promise.all(
      tableOrder.map(async (name) => [name, await store.source.query(`SELECT * FROM ${name} ORDER BY 1, 2`)] as const),
    ),
  );

async function fill() {
  let axis = await test.addAxis({ ...demoAxis, notes: '“quoted”\n\\ 漢 \u0000 end' });
  axis = (await test.saveAxis(axis, { jogSpeed: 3 })).body;
  const channel = [0.1, 1e-9, -123456.789];
  const channels = {
    demandPosition: channel,
    actualPosition: channel,
    demandSpeed: channel,
    actualSpeed: channel,
    followingError: channel,
    torque: channel,
    inputs: channel,
    statusword: channel,
  };
  await test.store.runs.add(
    {
      memberId: axis.id,
      kind: 'homing',
      end: 'fault',
      because: 'x',
      startedAt: new Date('2026-03-04T05:06:07.089Z'),
      seconds: 0.1 + 0.2,
      axisVersion: 2,
    },
    traceOf(channels),
  );
  await test.store.temporarySettings.remember(axis.id, {
    key: 'k',
    label: 'K',
    original: 0.1,
    temporary: 1,
    identity: '1:2',
    address: 'h:1/1',
  });
  return axis;
}

/** Its trace was kept as JSON; it is read as one of today. */
async function expectOldRun(server: TestServer, memberId: string): Promise<void> {
  const [summary] = (await server.send<RunSummary[]>('GET', `/axes/${memberId}/runs`)).body;
  const run = (await server.send<RunRecord>('GET', `/runs/${summary?.id ?? ''}`)).body;
  const channel = await channelsOfRun(server.base, run);
  expect(run.trace.channels.map(({ id, unit }) => [id, unit])).toContainEqual(['followingError', 'mm']);
  expect(channel('actualPosition').length).toBe(run.trace.count);
}

describe('backup', () => {
  it('is taken at one moment while saves go on, and put back whole while the server runs', async () => {
    let axis = await fill();
    const path = join(folder, 'one.gz');
    let isDone = false;
    const saves = (async () => {
      for (let k = 0; !isDone; k++) axis = (await test.saveAxis(axis, { jogSpeed: 10 + k })).body;
    })();
    const first = axis.version;
    await vi.waitUntil(() => axis.version > first + 3, { timeout: 60_000 });
    await writeBackup(test.store.source, path);
    isDone = true;
    await saves;
    // At that moment the axis and its newest revision were the same state, whatever was saved meanwhile.
    const lines = gunzipSync(await readFile(path))
      .toString()
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { table?: string; row?: Record<string, unknown> });
    const kept = lines.find(({ table, row }) => table === 'axis' && row?.id === axis.id)?.row;
    const versions = lines.flatMap(({ table, row }) =>
      table === 'revision' && row?.subject_id === axis.id ? [Number(row.version)] : [],
    );
    expect(Math.max(...versions)).toBe(kept?.version);
    expect(Number(kept?.version)).toBeLessThanOrEqual(axis.version);

    await restoreBackup(test.store.source, test.url, path);
    const { body } = await test.send<AxisRecord>('GET', `/axes/${axis.id}`);
    expect(body.version).toBe(kept?.version);
    expect((await test.saveAxis(body, { jogSpeed: 1 })).status).toBe(200);
  });

  it('holds every table; one that it would leave out stops the start', () => {
    checkTableOrder(test.store.source);
    const entityMetadatas = [...test.store.source.entityMetadatas, { tableName: 'forgotten' }];
    expect(() => checkTableOrder({ entityMetadatas })).toThrow('leave out forgotten');
  });

  it('of 0.5.0 is brought up to date; its temporary setting learns the address of its drive', async () => {
    const old = await startServer(await newDatabase());
    try {
      const path = new URL('./test/backup-0.5.0.gz', import.meta.url).pathname;
      expect(await restoreBackup(old.store.source, old.url, path)).toBeGreaterThan(5);
      const { items } = (await old.send<MachinePage>('GET', '/machines?page=0&size=10')).body;
      expect(items.map(({ name }) => name)).toEqual(['Old cell']);
      const [axis] = items[0]?.axes ?? [];
      const { body } = await old.send<AxisRecord>('GET', `/axes/${axis?.id ?? ''}`);
      expect(body).toMatchObject({ version: 2, document: { jogSpeed: 45 } });
      expect(await old.store.temporarySettings.of(body.id)).toMatchObject([
        { key: 'commandSource', original: 0, identity: '', address: '127.0.0.1:5502/1' },
      ]);
      expect(await old.store.temporarySettings.at('1:2', '127.0.0.1:5502/1')).toHaveLength(1);
      expect((await old.send<RunSummary[]>('GET', `/axes/${body.id}/runs`)).body).toMatchObject([{ kind: 'homing' }]);
      await expectOldRun(old, body.id);
      expect((await old.saveAxis(body, { jogSpeed: 46 })).status).toBe(200);
      expect((await old.send<ProfileRecord[]>('GET', '/profiles')).body).toMatchObject([{ kind: 'axis' }]);
    } finally {
      await old.stop();
    }
  });

  it('with a row that cannot be read changes nothing', async () => {
    await fill();
    const path = join(folder, 'odd.gz');
    await writeBackup(test.store.source, path);
    const lines = gunzipSync(await readFile(path))
      .toString()
      .trim()
      .split('\n')
      .slice(0, -1);
    const odd = lines.map((line) => line.replace('\\"kind\\":\\"axis\\"', '\\"kind\\":\\"ax\\"'));
    const hash = createHash('sha256')
      .update(`${odd.join('\n')}\n`)
      .digest('hex');
    await writeFile(path, gzipSync(`${odd.join('\n')}\n${JSON.stringify({ rows: odd.length - 1, sha256: hash })}\n`));
    const before = await contents(test.store);
    await expect(restoreBackup(test.store.source, test.url, path)).rejects.toThrow(/row of “axis” that cannot be read/);
    expect(await contents(test.store)).toEqual(before);
  });

  it('is for the eyes of its owner only', async () => {
    const path = join(folder, 'mode.gz');
    await writeBackup(test.store.source, path);
    expect(statSync(path).mode & 0o777).toBe(0o600);
  });

  it('goes into another database to the letter', async () => {
    await fill();
    const path = join(folder, 'two.gz');
    const rows = await writeBackup(test.store.source, path);
    const other = await startServer(await newDatabase());
    try {
      await other.newMachine('in the way');
      expect(await restoreBackup(other.store.source, other.url, path)).toBe(rows);
      expect(await contents(other.store)).toEqual(await contents(test.store));
    } finally {
      await other.stop();
    }
    expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  it.each<[string, (bytes: Buffer) => Buffer, RegExp]>([
    ['cut off', (bytes) => bytes.subarray(0, bytes.length - 200), /cannot be read|not whole|damaged/],
    [
      'with a changed value',
      (bytes) => gzipSync(gunzipSync(bytes).toString().replace('Carriage', 'Garriage')),
      /check sum/,
    ],
    [
      'without a line',
      (bytes) =>
        gzipSync(
          gunzipSync(bytes)
            .toString()
            .split('\n')
            .filter((_, k) => k !== 3)
            .join('\n'),
        ),
      /check sum/,
    ],
    [
      'without its end',
      (bytes) => gzipSync(gunzipSync(bytes).toString().trim().split('\n').slice(0, -1).join('\n')),
      /not whole/,
    ],
    [
      'of another version',
      (bytes) => gzipSync(gunzipSync(bytes).toString().replace('"migrations":[', '"migrations":["later",')),
      /version of Kavrid/,
    ],
    ['that is another file', () => gzipSync('{"format":"else"}\n'), /not a backup/],
    ['that is no archive', () => Buffer.from('hello'), /cannot be read/],
    ['that is empty', () => Buffer.alloc(0), /cannot be read|not whole/],
  ])('%s is refused, and nothing is changed', async (_, spoil, words) => {
    await fill();
    const path = join(folder, 'good.gz');
    await writeBackup(test.store.source, path);
    const bad = join(folder, 'bad.gz');
    await writeFile(bad, spoil(await readFile(path)));
    const before = await contents(test.store);
    await expect(restoreBackup(test.store.source, test.url, bad)).rejects.toThrow(words);
    expect(await contents(test.store)).toEqual(before);
  });

  it('leaves no file behind when it cannot be written', async () => {
    await expect(writeBackup(test.store.source, join(folder, 'no such folder', 'x.gz'))).rejects.toThrow();
  });
});
