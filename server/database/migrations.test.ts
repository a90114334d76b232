import { readFileSync } from 'node:fs';
import { axisSchema, libraryEntrySchema, machineSchema, type AxisDocument } from '@kavrid/contract';
import { DataSource } from 'typeorm';
import { expect, it } from 'vitest';
import { newDatabase } from '../test/testServer.ts';
import { connectDatabase } from './connectDatabase.ts';
import { FirstSchema1764000000000 } from './firstSchema.ts';
import { SecondSchema1764030000000 } from './secondSchema.ts';
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
    expect((await store.runs.read('r1'))?.axis).toMatchObject({ jogSpeed: 7 });
    expect((await store.runs.read('r3'))?.axis).toMatchObject({ jogSpeed: axis.jogSpeed });
    // The next save goes on from there.
    const document = machine?.axes[0]?.document;
    if (document?.kind !== 'axis') throw new Error('the axis is gone');
    expect(await store.axes.save('a', 9, { ...document, jogSpeed: 8 }, { author: 'x' })).toMatchObject({
      record: { version: 10 },
    });
  } finally {
    await store.close();
  }
});

it('documents and library entries of format version 2, and all their revisions, are brought to version 3', async () => {
  const url = await newDatabase();
  const old = await new DataSource({
    type: 'mariadb',
    url,
    migrations: [FirstSchema1764000000000, SecondSchema1764030000000],
    timezone: 'Z',
  }).initialize();
  await old.runMigrations();
  const file = JSON.parse(
    readFileSync(new URL('../../contract/test/machine-file-2.json', import.meta.url), 'utf8'),
  ) as { machine: { document: object }; axes: [unknown, { document: object }] };
  const pump = file.axes[1].document;
  const entries = {
    board: {
      shelf: 'controller',
      entry: {
        ...{ name: 'Board', maximumPulseRate: 30000, kind: 'embedded board', outputs: [], outputVoltage: 5 },
        ...{
          analogOutputs: null,
          analogBits: null,
          pwmBits: null,
          pwmFrequency: null,
          encoderInputRate: null,
          notes: '',
        },
      },
    },
    line: {
      shelf: 'motor',
      entry: {
        ...{ form: 'linear', name: 'L', ratedForce: 120, peakForce: 300, topSpeed: 2000, movingMass: 1.2 },
        ...{ countsPerMillimetre: 1000, notes: '' },
      },
    },
  };
  await old.query(
    `INSERT INTO machine (id, name, document, version, updated_at) VALUES ('m', 'Cell', ?, 1, '2026-01-02')`,
    [JSON.stringify(file.machine.document)],
  );
  await old.query(
    `INSERT INTO axis (id, machine_id, position, name, document, version, updated_at) VALUES ('a', 'm', 0, 'Pump', ?, 2, '2026-01-02')`,
    [JSON.stringify(pump)],
  );
  for (const version of [1, 2])
    await old.query(`INSERT INTO revision VALUES ('a', ?, '2026-01-02', 'Ada', 'made', '', ?)`, [
      version,
      JSON.stringify({ ...pump, jogSpeed: version }),
    ]);
  for (const [id, item] of Object.entries(entries)) {
    await old.query(`INSERT INTO library_entry VALUES (?, ?, ?, ?, 1, '2026-01-02')`, [
      id,
      item.shelf,
      item.entry.name,
      JSON.stringify(item.entry),
    ]);
    await old.query(`INSERT INTO revision VALUES (?, 1, '2026-01-02', 'Ada', 'made', '', ?)`, [
      id,
      JSON.stringify(item),
    ]);
  }
  await old.destroy();

  const source = await connectDatabase(url);
  const store = new Store(source);
  try {
    const axis = await store.axes.read('a');
    expect(axisSchema.safeParse(axis?.document).error).toBeUndefined();
    expect(axis?.document).toMatchObject({ kind: 'axis' });
    expect((axis?.document as AxisDocument).stages.at(-1)).toMatchObject({
      kind: 'dosingHead',
      outputPerTurn: '3.5 mL',
    });
    const kept = (await source.query(
      `SELECT subject_id AS id, document FROM revision ORDER BY subject_id, version`,
    )) as {
      id: string;
      document: string;
    }[];
    expect(kept.map(({ id }) => id)).toEqual(['a', 'a', 'board', 'line']);
    for (const { id, document } of kept)
      expect((id === 'a' ? axisSchema : libraryEntrySchema).safeParse(JSON.parse(document)).error).toBeUndefined();
    expect(JSON.parse(kept[0]?.document ?? '')).toMatchObject({ jogSpeed: 1 });
    expect((await store.library.read('line'))?.item).toMatchObject({ entry: { countsPerMillimetre: '1000' } });
  } finally {
    await store.close();
  }
});
