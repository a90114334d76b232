import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateRawSync, crc32 } from 'node:zlib';
import {
  axisSchema,
  isAxisRecord,
  newController,
  newEntry,
  type AxisRecord,
  type ImportState,
  type MachineFile,
  type MachineRecord,
  type RunRecord,
} from '@kavrid/contract';
import { mapPath } from '@kavrid/bench';
import { describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { demoAxis, newDatabase, startServer, useServer, type TestServer } from '../test/testServer.ts';
import { traceOf } from '../test/traces.ts';
import { checkFile } from './checkFile.ts';
import { machineFileOf } from './exportMachine.ts';

const test = useServer();
const csv = readFileSync(mapPath('servo'), 'utf8');

const numbers = (length: number, seed = 1) => {
  const channel = (k: number) => Array.from({ length }, (_, n) => Math.round(1e5 * Math.sin(n / 50 + k + seed)) / 1e5);
  return {
    demandPosition: channel(0),
    actualPosition: channel(1),
    demandSpeed: channel(2),
    actualSpeed: channel(3),
    followingError: channel(4),
    torque: channel(5),
    inputs: channel(6),
    statusword: channel(7),
  };
};

/** A machine with everything that can go along: revisions, runs of two of them, a library entry, a register map. */
async function fullMachine(server: TestServer, runs = 3, samples = 400) {
  const machine = await server.newMachine('Glazing line');
  const map = (await (
    await fetch(`${server.base}/profiles`, { method: 'POST', body: csv, headers: { 'content-type': 'text/csv' } })
  ).json()) as { id: string };
  const entry = await server.store.library.create(newEntry('controller', 'Board'), { author: 'test' });
  let axis = await server.addAxis(
    {
      ...demoAxis,
      link: { ...demoAxis.link, profileId: map.id },
      controller: { ...newController('Board'), entry: { id: entry.id, version: 1 } },
    },
    machine.id,
  );
  const addRun = (k: number) =>
    server.store.runs.add(
      {
        memberId: axis.id,
        kind: 'test move',
        end: 'finished',
        because: '',
        startedAt: new Date(Date.UTC(2026, 0, 1, 0, 0, k)),
        seconds: 1.5,
        axisVersion: axis.version,
      },
      traceOf(numbers(samples, k)),
    );
  await addRun(0);
  axis = (await server.saveAxis(axis, { jogSpeed: 33, notes: 'Ü ✓ 漢' }, 'Ada')).body;
  for (let k = 1; k < runs; k++) await addRun(k);
  return { machine, axis, entry, map };
}

const download = async (server: TestServer, id: string, query = '?revisions=1&runs=1') => {
  const answer = await fetch(`${server.base}/machines/${id}/export${query}`);
  expect(answer.status).toBe(200);
  return Buffer.from(await answer.arrayBuffer());
};
const upload = async (server: TestServer, bytes: Uint8Array) => {
  const answer = await fetch(`${server.base}/imports`, {
    method: 'POST',
    body: bytes as Uint8Array<ArrayBuffer>,
    headers: { 'content-type': 'application/octet-stream' },
  });
  return (await answer.json()) as ImportState;
};
const settled = async (server: TestServer, id: string): Promise<ImportState> => {
  for (const end = Date.now() + 60_000; ; await new Promise((resolve) => setTimeout(resolve, 40))) {
    const state = (await server.send<ImportState>('GET', `/imports/${id}`)).body;
    if (state.phase !== 'reading' && state.phase !== 'taking in') return state;
    if (Date.now() > end) throw new Error(`the import stays ${state.phase}`);
  }
};
const check = async (server: TestServer, bytes: Uint8Array) => settled(server, (await upload(server, bytes)).id);
const readied = async (server: TestServer, bytes: Uint8Array) => {
  const state = await check(server, bytes);
  if (state.phase !== 'ready') throw new Error(JSON.stringify(state.problems));
  return state;
};
const take = async (
  server: TestServer,
  id: string,
  how: 'keep both' | 'replace' | 'merge',
  conflicts: 'file' | 'database' = 'database',
) => {
  expect((await server.send('POST', `/imports/${id}/take`, { author: 'Ada', how, conflicts })).status).toBe(201);
  const state = await settled(server, id);
  expect(state.phase).toBe('done');
  return (await server.send<MachineRecord>('GET', `/machines/${state.machineId ?? ''}`)).body;
};
const contents = async (server: TestServer, id: string) => {
  const {
    exportedAt: _,
    sha256: __,
    ...file
  } = (await machineFileOf(server.store, id, { revisions: true, runs: true })) as MachineFile;
  return file;
};

describe('a machine in a file', () => {
  it('goes to another database and comes out of it the same, to the last sample', { timeout: 60_000 }, async () => {
    const { machine, axis } = await fullMachine(test);
    const other = await startServer(await newDatabase());
    try {
      const state = await readied(other, await download(test, machine.id));
      expect(state).toMatchObject({ phase: 'ready', machineName: 'Glazing line', axes: 1, runs: 3 });
      expect(state.existing).toBeUndefined();
      await take(other, state.id, 'keep both');
      expect(await contents(other, machine.id)).toEqual(await contents(test, machine.id));
      for (const { id } of await test.store.runs.newest(axis.id)) {
        const [here, there] = await Promise.all(
          [test, other].map((server) => server.send<RunRecord>('GET', `/runs/${id}`)),
        );
        expect(there?.body).toEqual(here?.body);
      }
      // And once more: what the other gives away is what it was given.
      expect(await contents(other, machine.id)).toEqual(await contents(test, machine.id));
    } finally {
      await other.stop();
    }
  });

  it('without runs is plain JSON, and without revisions keeps those that runs need', async () => {
    const { machine, axis } = await fullMachine(test);
    const plain = JSON.parse((await download(test, machine.id, '')).toString()) as MachineFile;
    expect(plain.axes[0]).toMatchObject({ id: axis.id, version: 2, document: { jogSpeed: 33 } });
    expect(plain.axes[0]?.revisions).toBeUndefined();
    expect(plain.library).toHaveLength(1);
    expect(plain.registerMaps).toHaveLength(1);
    const withRuns = await machineFileOf(test.store, machine.id, { revisions: false, runs: true });
    expect(withRuns?.axes[0]?.revisions?.map(({ version }) => version)).toEqual([1, 2]);
  });

  it('comes in beside the one that is here, with ids of its own', async () => {
    const { machine, axis } = await fullMachine(test);
    const state = await readied(test, await download(test, machine.id));
    expect(state.existing).toMatchObject({ name: 'Glazing line', changes: [], conflicts: [] });
    const copy = await take(test, state.id, 'keep both');
    expect([copy.document.name, copy.id === machine.id, copy.axes[0]?.id === axis.id]).toEqual([
      'Glazing line (file)',
      false,
      false,
    ]);
    expect(await test.store.runs.newest(copy.axes[0]?.id ?? '')).toHaveLength(3);
    expect(await test.store.runs.newest(axis.id)).toHaveLength(3);
    expect((await test.send('POST', `/imports/${state.id}/take`, { author: 'Ada', how: 'merge' })).status).toBe(409);
  });

  it('replaces the one that is here; what was here stays among the revisions', async () => {
    const { machine, axis } = await fullMachine(test);
    const spare = await test.addAxis({ ...demoAxis, name: 'Spare' }, machine.id);
    await test.send('DELETE', `/axes/${spare.id}`);
    const bytes = await download(test, machine.id);
    await test.send('POST', `/axes/${spare.id}/put-back`);
    await test.saveAxis(axis, { jogSpeed: 77 });
    const added = await test.addAxis({ ...demoAxis, name: 'Later' }, machine.id);
    const replaced = await take(test, (await readied(test, bytes)).id, 'replace');
    expect(
      replaced.axes.filter(isAxisRecord).map(({ id, version, document }) => [id, version, document.jogSpeed]),
    ).toEqual([[axis.id, 4, 33]]);
    // What the file says was taken out is so again, and what it does not know is taken out, not dropped.
    expect(replaced.removedAxes).toEqual([
      { id: spare.id, name: 'Spare' },
      { id: added.id, name: 'Later' },
    ]);
    expect((await test.send<AxisRecord>('GET', `/axes/${axis.id}/revisions/3`)).body.document.jogSpeed).toBe(77);
    expect(await test.store.runs.newest(axis.id)).toHaveLength(3);
  });

  it.each(['database', 'file'] as const)(
    'is merged with the one here from what both knew; where both edited, the %s stands',
    async (side) => {
      const { machine, axis } = await fullMachine(test);
      const other = await startServer(await newDatabase());
      try {
        await take(other, (await readied(other, await download(test, machine.id))).id, 'keep both');
        // The other side edits and measures; meanwhile this side edits too.
        const there = (await other.send<AxisRecord>('GET', `/axes/${axis.id}`)).body;
        const edited = (
          await other.saveAxis(there, { plusEnd: 'theirs', wanted: { ...there.document.wanted, speed: 900 } }, 'Bo')
        ).body;
        await other.store.runs.add(
          {
            memberId: axis.id,
            kind: 'homing',
            end: 'finished',
            because: '',
            startedAt: new Date(),
            seconds: 1,
            axisVersion: edited.version,
          },
          traceOf(numbers(20)),
        );
        await test.saveAxis(axis, { plusEnd: 'ours', jogSpeed: 44 });
        const state = await readied(test, await download(other, machine.id));
        expect(state.existing?.conflicts).toEqual(['Carriage: plus end']);
        expect(state.existing?.changes).toEqual(['Carriage: wanted speed 1 500 → 900'.replace('1 500', '1\u202f500')]);
        const merged = await take(test, state.id, 'merge', side);
        expect(merged.axes[0]?.document).toMatchObject({
          jogSpeed: 44,
          wanted: { speed: 900 },
          plusEnd: side === 'file' ? 'theirs' : 'ours',
        });
        const runs = await test.store.runs.newest(axis.id);
        expect(runs).toHaveLength(4);
        // The new run still belongs to the settings it was made with, though both sides had a version 3.
        const run = (await test.send<RunRecord>('GET', `/runs/${runs[0]?.id ?? ''}`)).body;
        expect(run).toMatchObject({ kind: 'homing', axis: { plusEnd: 'theirs', wanted: { speed: 900 } } });
      } finally {
        await other.stop();
      }
    },
  );

  it('of version 1, made by hand, comes in', async () => {
    const state = await readied(
      test,
      readFileSync(new URL('../../contract/test/machine-file-1.json', import.meta.url)),
    );
    expect(state.phase).toBe('ready');
    const machine = await take(test, state.id, 'keep both');
    expect(axisSchema.safeParse(machine.axes[0]?.document).success).toBe(true);
  });

  it('can be broken off while it is taken in: nothing of it is left', { timeout: 60_000 }, async () => {
    const { machine } = await fullMachine(test, 40, 3000);
    const other = await startServer(await newDatabase());
    try {
      const state = await readied(other, await download(test, machine.id));
      await other.send('POST', `/imports/${state.id}/take`, { author: 'Ada', how: 'keep both' });
      for (let share = 0; share === 0;)
        share = (await other.send<ImportState>('GET', `/imports/${state.id}`)).body.progress;
      expect((await other.send('DELETE', `/imports/${state.id}`)).status).toBe(204);
      // Files come in one after the other: when the next has been checked, this one has ended.
      await readied(other, await download(test, machine.id));
      expect((await other.send('GET', `/machines/${machine.id}`)).status).toBe(404);
      for (const table of ['machine', 'axis', 'run', 'revision']) {
        const [{ n }] = (await other.store.source.query(`SELECT COUNT(*) AS n FROM ${table}`)) as [{ n: string }];
        expect(Number(n)).toBe(0);
      }
    } finally {
      await other.stop();
    }
  });

  it('can be broken off while it goes out', async () => {
    const { machine } = await fullMachine(test, 60, 4000);
    const ticket = randomUUID();
    const answer = await fetch(`${test.base}/machines/${machine.id}/export?runs=1&ticket=${ticket}`);
    const reader = (answer.body as ReadableStream<Uint8Array>).getReader();
    await reader.read();
    const progress = (await test.send<{ done: number; total: number }>('GET', `/exports/${ticket}`)).body;
    expect(progress.total).toBeGreaterThan(60 * 4000 * 8);
    expect((await test.send('DELETE', `/exports/${ticket}`)).status).toBe(204);
    await expect(
      (async () => {
        while (!(await reader.read()).done);
      })(),
    ).rejects.toThrow();
    expect((await test.send('GET', '/health')).status).toBe(200);
  });
});

describe('wrong files', () => {
  const archive = async (entries: Readonly<Record<string, string | Buffer>>) => {
    const zip = new ZipFile();
    for (const [name, content] of Object.entries(entries)) zip.addBuffer(Buffer.from(content), name);
    zip.end();
    const chunks: Buffer[] = [];
    zip.outputStream.on('data', (chunk: Buffer) => chunks.push(chunk));
    await once(zip.outputStream, 'end');
    return Buffer.concat(chunks);
  };
  /** An archive of one entry, written by hand so that every field of it can lie. */
  const handmade = (name: string, packed: Buffer, facts: { crc: number; size: number; method?: number }) => {
    const head = Buffer.alloc(30);
    head.writeUInt32LE(0x04034b50, 0);
    head.writeUInt16LE(20, 4);
    head.writeUInt16LE(facts.method ?? 8, 8);
    head.writeUInt32LE(facts.crc, 14);
    head.writeUInt32LE(packed.length, 18);
    head.writeUInt32LE(facts.size, 22);
    head.writeUInt16LE(name.length, 26);
    const central = Buffer.alloc(46);
    central.writeUInt32LE(0x02014b50, 0);
    head.copy(central, 6, 4, 30);
    const end = Buffer.alloc(22);
    end.writeUInt32LE(0x06054b50, 0);
    end.writeUInt16LE(1, 8);
    end.writeUInt16LE(1, 10);
    end.writeUInt32LE(46 + name.length, 12);
    end.writeUInt32LE(30 + name.length + packed.length, 16);
    return Buffer.concat([head, Buffer.from(name), packed, central, Buffer.from(name), end]);
  };
  const good = async () => {
    const { machine } = await fullMachine(test, 2, 100);
    return download(test, machine.id);
  };
  const folder = mkdtempSync(join(tmpdir(), 'kavrid-wrong-'));
  const checked = async (bytes: Uint8Array) => {
    const path = join(folder, 'file');
    await writeFile(path, bytes);
    return checkFile(path, () => undefined);
  };
  const refused = async (bytes: Uint8Array, words: RegExp) => {
    const result = await checked(bytes);
    if (result.kind !== 'refused') throw new Error('the file was taken');
    expect(result.problems.map(({ pointer, detail }) => `${pointer} ${detail}`).join('\n')).toMatch(words);
  };

  it('change nothing: the server says what is wrong and goes on', async () => {
    const before = await test.store.machines.count();
    const state = await check(
      test,
      Buffer.from('{"format":"kavrid machine","formatVersion":3,"machine":{},"axes":"none"}'),
    );
    expect(state.phase).toBe('refused');
    expect(state.problems.map(({ pointer }) => pointer)).toEqual(
      expect.arrayContaining(['/machine/document', '/axes']),
    );
    expect((await test.send('POST', `/imports/${state.id}/take`, { author: '', how: 'merge' })).status).toBe(409);
    expect(await test.store.machines.count()).toBe(before);
  });

  it('cut off anywhere are refused', { timeout: 60_000 }, async () => {
    const bytes = await good();
    for (const share of [0.1, 0.5, 0.9, 0.999])
      await refused(bytes.subarray(0, Math.floor(bytes.length * share)), /archive|JSON/);
  });

  it('with one bit flipped anywhere are refused', { timeout: 120_000 }, async () => {
    const bytes = await good();
    const original = await checked(bytes);
    let found = 0;
    for (let k = 0; k < 100; k++) {
      const at = Math.floor((bytes.length * k) / 100);
      const flipped = Buffer.from(bytes);
      flipped.writeUInt8(flipped.readUInt8(at) ^ (1 << (k % 8)), at);
      const result = await checked(flipped);
      // A bit that no reader looks at: the contents are then what they were.
      if (result.kind === 'file') expect(result).toEqual(original);
      else found++;
    }
    expect(found).toBeGreaterThan(80);
  });

  it(
    'that unpack to far more than they are, or lie about it, are refused with little memory',
    { timeout: 60_000 },
    async () => {
      const zeros = Buffer.alloc(100 * 2 ** 20);
      const bomb = deflateRawSync(zeros);
      expect(bomb.length).toBeLessThan(200_000);
      const before = process.memoryUsage().rss;
      await refused(handmade('machine.json', bomb, { crc: crc32(zeros), size: zeros.length }), /packed more tightly/);
      await refused(handmade('machine.json', bomb, { crc: crc32(zeros), size: 4_000_000_000 }), /at most 128 MB/);
      await refused(handmade('machine.json', bomb, { crc: 1, size: 1000 }), /damaged/);
      expect(process.memoryUsage().rss - before).toBeLessThan(150 * 2 ** 20);
    },
  );

  it('with paths that lead elsewhere, strange names or doubled entries are refused; nothing is written anywhere', async () => {
    const content = Buffer.from('{}');
    const facts = { crc: crc32(content), size: content.length, method: 0 };
    for (const name of [
      '../../etc/passwd',
      '/etc/passwd',
      'traces/../../x.json',
      'C:\\x.json',
      'traces\\x.json',
      'machine.json/',
      'traces/.json',
      'readme.txt',
    ])
      await refused(handmade(name, content, facts), /archive|no place/);
    expect(readdirSync(new URL('../../', import.meta.url))).not.toContain('x.json');
  });

  it('with pieces missing or too many are refused, each named', { timeout: 60_000 }, async () => {
    const { machine } = await fullMachine(test, 2, 20);
    const file = JSON.stringify(await machineFileOf(test.store, machine.id, { revisions: true, runs: true }));
    const [first, second] = (JSON.parse(file) as MachineFile).axes[0]?.runs ?? [];
    // As it was up to format version 4: one piece.
    const one = JSON.stringify({ period: 0.001, channels: numbers(5) });
    await refused(
      await archive({ 'machine.json': file, [`traces/${first?.id}.json`]: one }),
      new RegExp(`${second?.id}.*missing`),
    );
    await refused(
      await archive({
        'machine.json': file,
        ...Object.fromEntries([first?.id, second?.id, 'stranger'].map((id) => [`traces/${id}.json`, one])),
      }),
      /stranger.*No axis/,
    );
    await refused(await archive({ [`traces/${first?.id}.json`]: one }), /no “machine.json”/);
    const wrong = { period: 0.001, channels: { ...numbers(5), torque: ['high'] } };
    await refused(
      await archive({
        'machine.json': file,
        [`traces/${first?.id}.json`]: JSON.stringify(wrong),
        [`traces/${second?.id}.json`]: 'x',
      }),
      /channels\/torque\/0[\s\S]*cannot be read/,
    );
    const { header, samples } = traceOf(numbers(5));
    const spoilt = Buffer.from(samples);
    spoilt.writeDoubleLE(NaN, 8 * 7);
    const described = JSON.stringify(header);
    for (const [pieces, problem] of [
      [{ json: described }, /samples of this trace are missing/],
      [{ json: described, bin: samples.subarray(8) }, /312 bytes of samples, where 320 are described/],
      [{ json: described, bin: spoilt }, /“actualPosition” is not a number/],
      [{ bin: samples }, /should stand before them/],
      [{ json: JSON.stringify({ ...header, count: 1e9 }), bin: samples }, /count/],
      [{ json: JSON.stringify({ ...header, channels: [] }), bin: samples }, /channels/],
    ] as const)
      await refused(
        await archive({
          'machine.json': file,
          [`traces/${second?.id}.json`]: one,
          ...Object.fromEntries(
            Object.entries(pieces).map(([kind, bytes]) => [`traces/${first?.id}.${kind}`, Buffer.from(bytes)]),
          ),
        }),
        problem,
      );
    await refused(Buffer.from(file), /archive only/);
  });

  it('that are something else altogether are refused', { timeout: 60_000 }, async () => {
    await refused(Buffer.from(''), /not JSON/);
    await refused(Buffer.from('\u0000\u0001\u0002'), /not JSON/);
    await refused(Buffer.from('<html></html>'), /not JSON/);
    await refused(Buffer.from('{"format":"kavrid machine","formatVersion":99}'), /newer Kavrid/);
    await refused(Buffer.from(`{"a":${'['.repeat(200_000)}`), /not JSON/);
    await refused(Buffer.from('PK\u0003\u0004 not really'), /archive/);
    expect((await test.send('GET', '/imports/nobody')).status).toBe(404);
    expect((await test.send('DELETE', '/exports/nobody')).status).toBe(404);
  });
});
