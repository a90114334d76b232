import { readFileSync } from 'node:fs';
import { axisSchema, machineSchema } from '@kavrid/contract';
import { DataSource } from 'typeorm';
import { expect, it } from 'vitest';
import { newDatabase } from '../test/testServer.ts';
import { connectDatabase } from './connectDatabase.ts';
import { FirstSchema1764000000000 } from './firstSchema.ts';
import { Store } from './store.ts';

it('a database as first shipped is brought up to date: nothing is lost, runs find their settings', async () => {
  const url = await newDatabase();
  const old = await new DataSource({
    type: 'mariadb',
    url,
    migrations: [FirstSchema1764000000000],
    timezone: 'Z',
  }).initialize();
  await old.runMigrations();
  const file = JSON.parse(
    readFileSync(new URL('../../contract/test/machine-file-1.json', import.meta.url), 'utf8'),
  ) as { machine: object; axes: [{ gear: object; jogSpeed: number }] };
  const [axis] = file.axes;
  const earlier = { ...axis, jogSpeed: 7 };
  await old.query(`INSERT INTO machine VALUES ('m', 'Cell', ?, 4, '2026-01-02 03:04:05.678')`, [
    JSON.stringify(file.machine),
  ]);
  await old.query(`INSERT INTO axis VALUES ('a', 'm', 0, 'Carriage', ?, 9, '2026-01-03 00:00:00')`, [
    JSON.stringify(axis),
  ]);
  for (const [id, version, document] of [
    ['r1', 5, earlier],
    ['r2', 5, earlier],
    ['r3', 9, axis],
  ] as const)
    await old.query(
      `INSERT INTO run VALUES (?, 'a', 'homing', 'finished', '', '2026-01-01 00:00:00', 1, ?, ?, '{"period":1}')`,
      [id, version, JSON.stringify(document)],
    );
  await old.destroy();

  const source = await connectDatabase(url);
  const store = new Store(source);
  try {
    const machine = await store.machines.read('m');
    expect(machine).toMatchObject({
      version: 4,
      updatedAt: '2026-01-02T03:04:05.678Z',
      document: { ...file.machine, tags: [], archived: false },
    });
    expect(machineSchema.safeParse(machine?.document).success).toBe(true);
    expect(axisSchema.safeParse(machine?.axes[0]?.document).success).toBe(true);
    expect(machine?.axes[0]).toMatchObject({ version: 9, document: { gear: axis.gear } });
    const { items } = await store.revisions.page('a', 0, 10, false);
    expect(items.map(({ version, runs }) => [version, runs])).toEqual([
      [9, 1],
      [5, 2],
    ]);
    expect((await store.runs.read('r1'))?.axis.jogSpeed).toBe(7);
    expect((await store.runs.read('r3'))?.axis.jogSpeed).toBe(axis.jogSpeed);
    // The next save goes on from there.
    const document = machine?.axes[0]?.document;
    if (!document) throw new Error('the axis is gone');
    expect(await store.axes.save('a', 9, { ...document, jogSpeed: 8 }, { author: 'x' })).toMatchObject({
      record: { version: 10 },
    });
  } finally {
    await store.close();
  }
});
