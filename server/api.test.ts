import {
  homingDigest,
  type MeasuredEvidence,
  newAxis,
  newEntry,
  newStage,
  packImported,
  packSamples,
  type AxisDocument,
  type AxisRecord,
  type EntryRecord,
  type MachineRecord,
  type Problem,
  type ProfileRecord,
  type RunSummary,
} from '@kavrid/contract';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { request, type IncomingHttpHeaders } from 'node:http';
import { mapPath } from '@kavrid/bench';
import { describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { guard } from './port/guard.ts';
import { demoAxis, useServer } from './test/testServer.ts';

const csv = readFileSync(mapPath('servo'), 'utf8');
const test = useServer();

describe('machines and axes', () => {
  it('keeps a document exactly, markup and SQL in its texts included', async () => {
    const nasty = `<script>alert(1)</script>'; DROP TABLE axis; -- ${'ü'.repeat(20)}`;
    const document = { ...demoAxis, name: nasty.slice(0, 80), notes: nasty };
    const axis = await test.addAxis(document);
    expect((await test.send<AxisRecord>('GET', `/axes/${axis.id}`)).body.document).toEqual(document);
    expect((await test.send<MachineRecord>('GET', `/machines/${axis.machineId}`)).body.axes).toHaveLength(1);
  });

  it('answers a stale save with 409 and loses nothing', async () => {
    const axis = await test.addAxis(newAxis('Screw', 'linear'));
    const edit = (name: string, version: number) =>
      test.send<AxisRecord>('PUT', `/axes/${axis.id}`, {
        version,
        author: 'test',
        document: { ...axis.document, name },
      });
    expect((await edit('first', 1)).body.version).toBe(2);
    const stale = await edit('second', 1);
    expect([stale.status, stale.type]).toEqual([409, 'application/problem+json; charset=utf-8']);
    expect((await test.send<AxisRecord>('GET', `/axes/${axis.id}`)).body).toMatchObject({
      version: 2,
      document: { name: 'first' },
    });
  });

  it('lets exactly one of twenty simultaneous saves through', async () => {
    const axis = await test.addAxis(newAxis('Contended', 'linear'));
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, k) =>
        test.send('PUT', `/axes/${axis.id}`, {
          version: 1,
          author: 'test',
          document: { ...axis.document, notes: `writer ${k}` },
        }),
      ),
    );
    expect(answers.filter(({ status }) => status === 200)).toHaveLength(1);
    expect(answers.filter(({ status }) => status === 409)).toHaveLength(19);
  });

  it.each<[string, (axis: AxisDocument) => unknown, string]>([
    ['an unknown field', (axis) => ({ ...axis, colour: 'red' }), ''],
    ['a wrong type', (axis) => ({ ...axis, name: 7 }), '/name'],
    ['text that is no number', (axis) => ({ ...axis, gear: { ...axis.gear, numerator: 'abc' } }), '/gear/numerator'],
    [
      'a lead of 1e-12',
      (axis) => ({
        ...axis,
        stages: [{ ...newStage('screw'), lead: '1e-12' }],
      }),
      '/stages/0/lead',
    ],
    ['a negative mass', (axis) => ({ ...axis, load: { ...axis.load, mass: -1 } }), '/load/mass'],
    ['a wrong unit', (axis) => ({ ...axis, motion: { kind: 'linear', travel: '5 kg' } }), '/motion/travel'],
    ['a huge number', (axis) => ({ ...axis, wanted: { resolution: '1e900', speed: 1e300 } }), '/wanted/speed'],
    ['an empty list of stages', (axis) => ({ ...axis, stages: [] }), '/stages'],
  ])('refuses %s with 422 and names the field', async (_, change, pointer) => {
    const answer = await test.send<Problem>('POST', `/machines/${(await test.newMachine()).id}/axes`, {
      author: 'test',
      document: change(demoAxis),
    });
    expect(answer.status).toBe(422);
    expect(answer.body.errors?.map((each) => each.pointer).join(' ')).toContain(pointer);
  });

  it('what is asked for twice is made once: an answer lost on the way, or two at the same time', async () => {
    const machine = await test.newMachine();
    const ids = [randomUUID(), randomUUID(), randomUUID(), randomUUID()] as const;
    const axis = { author: 'test', newId: ids[0], document: demoAxis };
    const made = await Promise.all(
      Array.from({ length: 8 }, () => test.send<AxisRecord>('POST', `/machines/${machine.id}/axes`, axis)),
    );
    expect(new Set(made.map(({ status, body }) => `${status} ${body.id} ${body.version}`))).toEqual(
      new Set([`201 ${ids[0]} 1`]),
    );
    const copy = { author: 'test', newId: ids[1], name: 'Copy' };
    for (const _ of [1, 2]) await test.send('POST', `/axes/${ids[0]}/duplicate`, copy);
    expect((await test.send<MachineRecord>('GET', `/machines/${machine.id}`)).body.axes).toHaveLength(2);
    const twin = { author: 'test', newId: ids[2], name: 'Twin' };
    for (const _ of [1, 2]) await test.send('POST', `/machines/${machine.id}/duplicate`, twin);
    expect((await test.send<MachineRecord>('GET', `/machines/${ids[2]}`)).body.axes).toHaveLength(2);
    const item = newEntry('cable', 'Once');
    const entries = await Promise.all(
      [1, 2].map(() => test.send<EntryRecord>('POST', '/library', { author: 'test', newId: ids[3], item })),
    );
    expect(entries.map(({ status, body }) => [status, body.id])).toEqual([
      [201, ids[3]],
      [201, ids[3]],
    ]);
  });

  it('keeps what was read at a gauge with the version it belongs to, and nothing for another version', async () => {
    const machine = await test.newMachine();
    const { body: axis } = await test.send<AxisRecord>('POST', `/machines/${machine.id}/axes`, {
      author: 'test',
      document: demoAxis,
    });
    const keep = (version: number, measured: object) =>
      test.send<MeasuredEvidence>('POST', `/axes/${axis.id}/measurements`, { version, measured });
    const homes = { kind: 'homing series', homes: [2, 2.01, 1.98] };
    expect(await keep(1, homes)).toMatchObject({
      status: 201,
      body: {
        revision: 1,
        identity: '',
        payload: { by: 'gauge', of: 3, homes: [0, expect.closeTo(0.01), expect.closeTo(-0.02)] },
      },
    });
    expect((await keep(2, homes)).status).toBe(409);
    expect((await keep(1, { kind: 'homing series', homes: [2] })).status).toBe(422);
    expect((await keep(1, { kind: 'positioning', targets: [{ target: 1, plus: [1], minus: [1, 2] }] })).status).toBe(
      422,
    );
    const targets = [{ target: 100, plus: [100.1, 100.2], minus: [99.9, 99.8] }];
    expect((await keep(1, { kind: 'positioning', targets })).status).toBe(201);
    const kept = await test.send<readonly MeasuredEvidence[]>('GET', `/axes/${axis.id}/evidence`);
    expect(kept.body.map(({ kind, digest }) => [kind, digest])).toEqual([
      ['positioning', homingDigest(demoAxis)],
      ['homing series', homingDigest(demoAxis)],
    ]);
    expect((await test.send('GET', '/axes/nobody/evidence')).body).toEqual([]);
  });

  it('keeps a trace from elsewhere with its axis, names it, and takes nothing of one that is not whole', async () => {
    const machine = await test.newMachine();
    const { body: axis } = await test.send<AxisRecord>('POST', `/machines/${machine.id}/axes`, {
      author: 'test',
      document: demoAxis,
    });
    const channel = {
      id: 'followingError',
      label: 'Following error',
      unit: 'mm',
      scale: 1,
      format: 'float64',
    } as const;
    const header = { period: 0.001, count: 2, channels: [channel] };
    const samples = packSamples([channel], [[0.5, -0.25]]);
    const post = (body: Uint8Array<ArrayBuffer>, id = axis.id) =>
      fetch(`${test.base}/axes/${id}/traces`, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body,
      });
    const packed = packImported({ name: 'Old controller', notes: '', trace: { header, samples } });
    const answer = await post(packed);
    expect(answer.status).toBe(201);
    const run = (await answer.json()) as RunSummary;
    expect(run).toMatchObject({ kind: 'imported', name: 'Old controller', axisVersion: axis.version });
    const csv = await (await fetch(`${test.base}/runs/${run.id}/trace.csv`)).text();
    expect(csv).toContain('0.001,-0.25');
    const named = await test.send<RunSummary>('PUT', `/runs/${run.id}/name`, { name: 'Before', notes: 'Loose belt' });
    expect(named.body).toMatchObject({ name: 'Before', notes: 'Loose belt' });
    const [listed, ...more] = (await test.send<RunSummary[]>('GET', `/axes/${axis.id}/runs`)).body;
    expect(listed).toMatchObject({ name: 'Before' });
    expect((await post(packed.subarray(0, packed.length - 8))).status).toBe(422);
    expect((await post(new TextEncoder().encode('not a trace'))).status).toBe(422);
    expect((await post(packed, 'nobody')).status).toBe(404);
    expect((await test.send('PUT', '/runs/nobody/name', { name: '', notes: '' })).status).toBe(404);
    expect([more, (await test.store.runs.newest(axis.id)).length]).toEqual([[], 1]);
  });

  it('keeps no library entry that nobody could take over', async () => {
    const item = newEntry('drive', 'Switched');
    const switchTable = [
      { switches: '00', value: '' },
      { switches: '00', value: '1000' },
    ];
    Object.assign(item.entry, { switchTable });
    const answer = await test.send<Problem>('POST', '/library', { author: 'test', item });
    expect(answer.status).toBe(422);
    expect(answer.body.errors?.map(({ pointer }) => pointer)).toEqual([
      '/item/entry/switchTable/0/value',
      '/item/entry/switchTable/1/switches',
    ]);
  });

  it('refuses what is no request at all', async () => {
    const raw = (body: string, type = 'application/json') =>
      fetch(`${test.base}/machines`, { method: 'POST', body, headers: { 'content-type': type } });
    expect((await raw('{"document":')).status).toBe(400);
    expect((await raw(JSON.stringify({ document: { name: 'x', notes: 'x'.repeat(10_000_000) } }))).status).toBe(413);
    expect((await raw('name=x', 'application/x-www-form-urlencoded')).status).toBe(415);
    expect((await raw('"' + '['.repeat(100_000) + '"')).status).toBeLessThan(500);
    expect((await test.send('GET', '/axes/nobody')).status).toBe(404);
    expect((await test.send('PUT', '/axes/nobody', { version: 1, author: 'test', document: demoAxis })).status).toBe(
      404,
    );
    expect((await test.send('DELETE', '/machines/nobody')).status).toBe(404);
    expect((await test.send('GET', '/axes/%00/revisions/abc')).status).toBe(404);
    expect((await test.send('GET', '/nowhere')).status).toBe(404);
  });

  it('tags that the database takes for the same, half a character, and a version near the last one', async () => {
    const machine = await test.newMachine();
    const tags = ['Lift', 'lift', 'Maß', 'mass'];
    const body = { version: machine.version, author: 'test', document: { ...machine.document, tags } };
    const saved = await test.send<MachineRecord>('PUT', `/machines/${machine.id}`, body);
    expect([saved.status, saved.body.document.tags]).toEqual([200, tags]);
    const broken = { author: 'test', document: { ...machine.document, name: 'cut \ud83d here' } };
    expect(await test.send<Problem>('POST', '/machines', broken)).toMatchObject({
      status: 422,
      body: { errors: [{ pointer: '/document/name' }] },
    });
    const axis = await test.addAxis(demoAxis, machine.id);
    await test.store.source.query('UPDATE axis SET version = 2147483647 WHERE id = ?', [axis.id]);
    const last = (await test.send<AxisRecord>('GET', `/axes/${axis.id}`)).body;
    expect(last.version).toBe(2 ** 31 - 1);
    expect((await test.saveAxis(last, { notes: 'one more' })).body.version).toBe(2 ** 31);
  });

  it('imports a register map, and lists what is wrong with another', async () => {
    const post = (body: string) =>
      fetch(`${test.base}/profiles`, { method: 'POST', body, headers: { 'content-type': 'text/csv' } });
    expect((await post(csv)).status).toBe(201);
    const broken = await post(csv.replace('u32,1,,1,2147483647', 'u99,1,,1,x'));
    expect(broken.status).toBe(422);
    const { errors } = (await broken.json()) as Problem;
    expect(errors?.map((each) => each.detail).join(' ')).toMatch(/Line \d+, column type/);
    expect((await post('')).status).toBe(422);
  });

  it('renames, replaces and deletes a register map, and says who uses it', async () => {
    const put = (path: string, body: string, type: string) =>
      fetch(`${test.base}${path}`, { method: 'PUT', body, headers: { 'content-type': type } });
    const made = (await (
      await fetch(`${test.base}/profiles`, { method: 'POST', body: csv, headers: { 'content-type': 'text/csv' } })
    ).json()) as ProfileRecord;
    expect(made).toMatchObject({ kind: 'axis', users: [] });
    const user = await test.addAxis({ ...demoAxis, name: 'User', link: { ...demoAxis.link, profileId: made.id } });
    expect((await put(`/profiles/${made.id}/name`, '{"name":"Mine"}', 'application/json')).status).toBe(204);
    expect((await put(`/profiles/${made.id}/name`, '{"name":""}', 'application/json')).status).toBe(422);
    expect((await put(`/profiles/${made.id}`, 'kind,key\n', 'text/csv')).status).toBe(422);
    const long = csv.replace('profile,name,Bench servo drive', `profile,name,${'x'.repeat(10_000)}`);
    expect((await put(`/profiles/${made.id}`, long, 'text/csv')).status).toBe(200);
    const list = (await test.send<ProfileRecord[]>('GET', '/profiles')).body;
    expect(list.find(({ id }) => id === made.id)).toMatchObject({ name: 'x'.repeat(80), users: ['Cell: User'] });
    expect((await test.send<Problem>('DELETE', `/profiles/${made.id}`)).body).toMatchObject({
      status: 409,
      errors: [{ detail: 'Cell: User' }],
    });
    await test.saveAxis(user, { link: { ...user.document.link, profileId: null } });
    expect((await test.send('DELETE', `/profiles/${made.id}`)).status).toBe(204);
    expect((await test.send('DELETE', `/profiles/${made.id}`)).status).toBe(404);
  });
});

describe('who may talk to it', () => {
  const may = (headers: IncomingHttpHeaders, method = 'GET', url = '/api/machines', port = 4700) =>
    guard(() => port)({ headers, method, url }) === undefined;
  it.each<[string, string | undefined, boolean]>([
    ['127.0.0.1:4700', undefined, true],
    ['localhost:4700', 'http://localhost:4700', true],
    ['127.0.0.1:4700', 'http://stranger.example', false],
    ['stranger.example:4700', undefined, false],
    ['127.0.0.1:9999', undefined, false],
    ['127.0.0.1:4700', 'null', false],
  ])('host %s, origin %s: %s', (host, origin, allowed) =>
    expect(may({ host, ...(origin === undefined ? {} : { origin }) })).toBe(allowed),
  );

  it('on port 80 browsers leave the port out', () => {
    expect(may({ host: 'localhost', origin: 'http://localhost' }, 'GET', '/', 80)).toBe(true);
    expect(may({ host: 'localhost' }, 'GET', '/', 4700)).toBe(false);
  });

  it.each([
    ['/', 'navigate', true],
    ['/machine/1', 'navigate', true],
    ['/api/openapi.json', 'navigate', false],
    ['/%61pi/openapi.json', 'navigate', false],
    ['//api/openapi.json', 'navigate', false],
    ['/%zz', 'navigate', false],
    ['/assets/a.js', 'navigate', false],
    ['/', 'no-cors', false],
  ])('from another site, %s by %s: %s', (url, mode, allowed) => {
    for (const site of ['cross-site', 'same-site'])
      expect(may({ host: 'localhost:4700', 'sec-fetch-site': site, 'sec-fetch-mode': mode }, 'GET', url)).toBe(allowed);
    expect(may({ host: 'localhost:4700', 'sec-fetch-site': 'same-origin', 'sec-fetch-mode': mode }, 'GET', url)).toBe(
      true,
    );
  });

  it('refuses a foreign host over the wire, and a foreign page on the live line', async () => {
    const status = await new Promise<number | undefined>((resolve) =>
      request(
        { port: test.port, host: '127.0.0.1', path: '/api/health', headers: { host: 'stranger.example' } },
        (answer) => resolve(answer.statusCode),
      ).end(),
    );
    expect(status).toBe(403);
    const foreign = new WebSocket(`ws://127.0.0.1:${test.port}/live`, { origin: 'http://stranger.example' });
    const opened = await new Promise((resolve) =>
      foreign.on('open', () => resolve(true)).on('error', () => resolve(false)),
    );
    expect(opened).toBe(false);
  });

  it('answers on the live line what it cannot do, and hears signs of life without a word', async () => {
    const line = new WebSocket(`ws://127.0.0.1:${test.port}/live`);
    const heard: string[] = [];
    const all = new Promise<void>((resolve) =>
      line.on('message', (data) => {
        heard.push((JSON.parse(String(data)) as { because: string }).because);
        if (heard.length === 3) resolve();
      }),
    );
    await new Promise((resolve) => line.on('open', resolve));
    for (const text of ['{"type":"alive"}', '{"type":"stop"}', '{"type":"jogEnd","press":1}']) line.send(text);
    for (const text of ['{"type":"connect","version":1}', '{"type":"fly"}', '{"type":']) line.send(text);
    await all;
    expect(heard).toEqual([
      'Open an axis first.',
      'A message from this window was not understood.',
      'A message from this window could not be read.',
    ]);
    line.close();
  });
});
