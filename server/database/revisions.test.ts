import {
  newEntry,
  newMotor,
  withEntry,
  type AxisRecord,
  type EntryEffect,
  type EntryRecord,
  type LibraryEntry,
  type MachinePage,
  type MachineRecord,
  type Problem,
  type RevisionPage,
  type RunRecord,
  type SnapshotRecord,
  type SnapshotSummary,
} from '@kavrid/contract';
import { describe, expect, it } from 'vitest';
import { isProof, recordProof } from '@kavrid/bench/test/proof.ts';
import { demoAxis, useServer } from '../test/testServer.ts';
import { traceOf } from '../test/traces.ts';

const test = useServer();
const revisions = async (id: string, query = '') =>
  (await test.send<RevisionPage>('GET', `/axes/${id}/revisions${query}`)).body;
const saved = async (axis: AxisRecord, change: Partial<AxisRecord['document']>, author?: string) => {
  const answer = await test.saveAxis(axis, change, author);
  expect(answer.status).toBe(200);
  return answer.body;
};

describe('revisions', () => {
  it('every save is one, with its author and what changed; one that changes nothing is none', async () => {
    let axis = await test.addAxis(demoAxis);
    axis = await saved(axis, { gear: { ...demoAxis.gear, numerator: '49152', denominator: '625' } }, 'Ada');
    axis = await saved(axis, {}, 'Ada');
    axis = await saved(axis, { notes: 'Zoë’s <b>note</b>' }, 'Zoë');
    const { total, items } = await revisions(axis.id);
    expect(total).toBe(3);
    expect(items.map(({ version, author, summary }) => [version, author, summary])).toEqual([
      [3, 'Zoë', expect.stringContaining('→ Zoë’s <b>note</b>')],
      [2, 'Ada', 'gear numerator 12288 → 49152; gear denominator 125 → 625'],
      [1, 'test', 'made'],
    ]);
    const first = await test.send<AxisRecord>('GET', `/axes/${axis.id}/revisions/1`);
    expect(first.body).toMatchObject({ version: 1, document: demoAxis });
    expect((await test.send('GET', `/axes/${axis.id}/revisions/9`)).status).toBe(404);
    expect((await test.send('GET', `/axes/${axis.id}/revisions/one`)).status).toBe(404);
  });

  it('are named, found by their names, and restored as a new one', async () => {
    let axis = await test.addAxis(demoAxis);
    // Two people in turn: each edit is a revision of its own.
    for (let k = 0; k < 5; k++) axis = await saved(axis, { jogSpeed: 10 + k }, k % 2 === 0 ? 'Ada' : 'Zoë');
    const name = (version: number, words: string) =>
      test.send('PUT', `/axes/${axis.id}/revisions/${version}/name`, { name: words });
    expect((await name(3, 'as shipped')).status).toBe(204);
    expect((await name(99, 'none')).status).toBe(404);
    expect((await revisions(axis.id, '?named=1')).items.map(({ version, name: words }) => [version, words])).toEqual([
      [3, 'as shipped'],
    ]);
    expect((await revisions(axis.id, '?page=1&size=2')).items.map(({ version }) => version)).toEqual([4, 3]);
    const restore = (version: number) =>
      test.send<AxisRecord>('POST', `/axes/${axis.id}/revisions/3/restore`, { version, author: 'Ada' });
    expect((await restore(axis.version - 1)).status).toBe(409);
    const { body } = await restore(axis.version);
    expect([body.version, body.document.jogSpeed]).toEqual([7, 11]);
    expect((await revisions(axis.id)).items[0]).toMatchObject({
      version: 7,
      author: 'Ada',
      summary: 'restored revision 3 (“as shipped”)',
    });
    await name(3, '');
    expect((await revisions(axis.id, '?named=1')).total).toBe(0);
  });

  it('edits of one person in a row are one, named by all that changed', async () => {
    let axis = await test.addAxis(demoAxis);
    axis = await saved(axis, { jogSpeed: 11 }, 'Ada');
    axis = await saved(axis, { jogSpeed: 12 }, 'Ada');
    axis = await saved(axis, { notes: 'n' }, 'Ada');
    const listed = async () =>
      (await revisions(axis.id)).items.map(({ version, author, summary }) => [version, author, summary]);
    expect(await listed()).toEqual([
      [4, 'Ada', expect.stringMatching(/^(?=.*notes .* → n)(?=.*jog speed 60 → 12)/)],
      [1, 'test', 'made'],
    ]);
    // What was taken in can still be read, for a run that was made with it.
    expect((await test.send<AxisRecord>('GET', `/axes/${axis.id}/revisions/2`)).body.document.jogSpeed).toBe(11);
    // A text that cannot be taken is no revision, and does not part those around it.
    axis = await saved(axis, { unread: { '/jogSpeed': 'abc' } }, 'Ada');
    expect((await listed())[0]?.[0]).toBe(4);
    axis = await saved(axis, { unread: {}, jogSpeed: 13 }, 'Ada');
    expect(await listed()).toHaveLength(2);
    expect((await listed())[0]).toEqual([6, 'Ada', expect.stringContaining('jog speed 60 → 13')]);
    // Somebody else, a name, a run and a proof each keep what they stand for.
    axis = await saved(axis, { jogSpeed: 14 }, 'Zoë');
    await test.send('PUT', `/axes/${axis.id}/revisions/${axis.version}/name`, { name: 'as tried' });
    axis = await saved(axis, { jogSpeed: 15 }, 'Zoë');
    await test.store.evidence.add(axis.id, {
      kind: 'drive values',
      madeAt: '2026-01-02T03:04:05.000Z',
      revision: axis.version,
      identity: '1:2',
      digest: 'd',
      payload: { values: { gearNumerator: 1 } },
    });
    axis = await saved(axis, { jogSpeed: 16 }, 'Zoë');
    axis = await saved(axis, { jogSpeed: 17 }, 'Zoë');
    const { items } = await revisions(axis.id);
    expect(items.map(({ version, name, proofs }) => [version, name, proofs])).toEqual([
      [10, '', 0],
      [8, '', 1],
      [7, 'as tried', 0],
      [6, '', 0],
      [1, '', 0],
    ]);
    // A proof that comes late brings back what was taken in meanwhile.
    await test.store.revisions.keep(axis.id, 9);
    expect((await listed()).map(([version]) => version)).toContain(9);
  });

  it('own the runs that were made with them', async () => {
    let axis = await test.addAxis(demoAxis);
    const trace = traceOf({
      demandPosition: [0, 1],
      actualPosition: [0, 0.9],
      demandSpeed: [0, 5],
      actualSpeed: [0, 4],
      followingError: [0, 0.1],
      torque: [1, 2],
      inputs: [0, 0],
      statusword: [39, 39],
    });
    const made = await test.store.runs.add(
      {
        memberId: axis.id,
        kind: 'test move',
        end: 'finished',
        because: '',
        startedAt: new Date('2026-02-03T04:05:06Z'),
        seconds: 1,
        axisVersion: 1,
      },
      trace,
    );
    axis = await saved(axis, { jogSpeed: 99 });
    expect((await revisions(axis.id)).items.map(({ version, runs }) => [version, runs])).toEqual([
      [2, 0],
      [1, 1],
    ]);
    const run = (await test.send<RunRecord>('GET', `/runs/${made.id}`)).body;
    expect(run.axis).toEqual(demoAxis);
    const csv = await test.send<string>('GET', `/runs/${made.id}/trace.csv`);
    expect(csv.type).toContain('text/csv');
    expect(csv.body.split('\r\n').slice(0, 3)).toEqual([
      'Time (s),Demand position (mm),Actual position (mm),Demand speed (mm/s),Actual speed (mm/s),Following error (mm),Torque (%),Inputs,Statusword',
      '0,0,0,0,0,0,1,0,39',
      '0.001,1,0.9,5,4,0.1,2,0,39',
    ]);
  });

  it('two writers, save upon save: no update is lost', async () => {
    const each = isProof ? 500 : 40;
    const axis = await test.addAxis({ ...demoAxis, jogSpeed: null, notes: '0' });
    // Each counts up a field of its own and, told that it came too late, does what a window does: puts its edit on the newest.
    const write = async (field: 'jogSpeed' | 'notes', times: number) => {
      let newest = axis;
      for (let k = 1; k <= times;) {
        const change = field === 'jogSpeed' ? { jogSpeed: k } : { notes: String(k) };
        const answer = await test.saveAxis(newest, change, field);
        if (answer.status === 200) {
          newest = answer.body;
          k++;
        } else newest = (answer.body as unknown as { current: AxisRecord }).current;
      }
    };
    await Promise.all([write('jogSpeed', each), write('notes', each)]);
    const { body } = await test.send<AxisRecord>('GET', `/axes/${axis.id}`);
    expect([body.version, body.document.jogSpeed, body.document.notes]).toEqual([2 * each + 1, each, String(each)]);
    // Edits of one hand that follow each other are one revision; each of them can still be read.
    const { total } = await revisions(axis.id, '?size=1');
    expect(total).toBeGreaterThan(2);
    expect(total).toBeLessThanOrEqual(2 * each + 1);
    const middle = (await test.send<AxisRecord>('GET', `/axes/${axis.id}/revisions/${each + 1}`)).body.document;
    // Half-way each of the saves so far is in one of the two fields.
    expect((middle.jogSpeed ?? 0) + Number(middle.notes)).toBe(each);
    recordProof('saves of two writers at once', { saves: 2 * each });
  });
});

describe('machines', () => {
  const page = async (query: string) => (await test.send<MachinePage>('GET', `/machines?${query}`)).body;
  const save = (machine: MachineRecord, change: Partial<MachineRecord['document']>) =>
    test.send<MachineRecord>('PUT', `/machines/${machine.id}`, {
      version: machine.version,
      author: 'test',
      document: { ...machine.document, ...change },
    });

  it('are found by name, notes, axis and tag, sorted, a page at a time', async () => {
    for (let k = 0; k < 12; k++) {
      const machine = await test.newMachine(`Kiln ${String(k).padStart(2, '0')}`);
      await save(machine, {
        tags: k % 3 === 0 ? ['big', '100 %'] : ['small'],
        notes: k === 7 ? 'has a _strange_ door' : '',
      });
    }
    await test.addAxis({ ...demoAxis, name: 'Paddle\\shaft' }, (await test.newMachine('Stirrer')).id);
    const names = async (query: string) => (await page(query)).items.map(({ name }) => name);
    expect(await names('search=kiln&sort=name&order=ascending&size=3&page=1')).toEqual([
      'Kiln 03',
      'Kiln 04',
      'Kiln 05',
    ]);
    expect((await page('search=kiln&size=3')).total).toBe(12);
    expect(await names('tag=big&sort=name&order=descending')).toEqual(['Kiln 09', 'Kiln 06', 'Kiln 03', 'Kiln 00']);
    expect(await names(`search=${encodeURIComponent('_strange_')}`)).toEqual(['Kiln 07']);
    expect(await names(`search=${encodeURIComponent('_xtrange_')}`)).toEqual([]);
    expect(await names(`search=${encodeURIComponent('dle\\sh')}`)).toEqual(['Stirrer']);
    expect(await names(`search=${encodeURIComponent("' OR 1=1 --")}`)).toEqual([]);
    expect((await test.send<string[]>('GET', '/tags')).body).toEqual(expect.arrayContaining(['100 %', 'big', 'small']));
    expect((await test.send('GET', '/machines?sort=password')).status).toBe(422);
    expect((await test.send('GET', '/machines?size=100000')).status).toBe(422);
  });

  it('are archived, brought back, duplicated, and deleted only from the archive', async () => {
    let machine = await test.newMachine('Old press');
    const axis = await test.addAxis(demoAxis, machine.id);
    expect((await test.send<Problem>('DELETE', `/machines/${machine.id}`)).status).toBe(409);
    machine = (await save(machine, { archived: true })).body;
    expect((await page('search=old press')).total).toBe(0);
    expect((await page('search=old press&archived=1')).total).toBe(1);
    const copy = (
      await test.send<MachineRecord>('POST', `/machines/${machine.id}/duplicate`, { author: 'test', name: 'New press' })
    ).body;
    expect(copy.axes.map(({ document }) => document)).toEqual([demoAxis]);
    expect(copy.document.archived).toBe(false);
    expect(copy.axes[0]?.id).not.toBe(axis.id);
    expect((await test.send('DELETE', `/machines/${machine.id}`)).status).toBe(204);
    expect((await test.send('GET', `/axes/${axis.id}`)).status).toBe(404);
    expect((await revisions(axis.id)).total).toBe(0);
    expect((await test.send('GET', `/axes/${copy.axes[0]?.id ?? ''}`)).status).toBe(200);
  });

  it('keep snapshots of their drives, newest first; those kept by themselves are few, and all go with the machine', async () => {
    let machine = await test.newMachine('Snapshots');
    const axis = await test.addAxis(demoAxis, machine.id);
    const reading = { written: { a: 1 }, running: { a: 2 }, stored: {}, factory: { a: 0 } };
    const add = (name: string, second: number, isAutomatic: boolean) =>
      test.store.snapshots.add(
        axis.id,
        { name, takenAt: new Date(1e12 + 1000 * second).toISOString(), identity: '1:2', map: 'M', reading },
        isAutomatic,
      );
    await add('by hand', 0, false);
    for (let k = 1; k <= 53; k++) await add(`automatic ${k}`, k, true);
    const list = async () => (await test.send<SnapshotSummary[]>('GET', `/machines/${machine.id}/snapshots`)).body;
    const listed = await list();
    expect(listed.map(({ name }) => name)).toEqual([
      ...Array.from({ length: 50 }, (_, k) => `automatic ${53 - k}`),
      'by hand',
    ]);
    const oldest = listed.at(-2)?.id ?? '';
    expect((await test.send<SnapshotRecord>('GET', `/snapshots/${oldest}`)).body).toMatchObject({
      reading,
      isAutomatic: true,
    });
    // One that has been given a name stays.
    expect((await test.send('PUT', `/snapshots/${oldest}/name`, { name: 'good' })).status).toBe(204);
    for (let k = 54; k <= 60; k++) await add(`automatic ${k}`, k, true);
    expect((await list()).map(({ name }) => name)).toContain('good');
    expect((await test.send('PUT', `/snapshots/${oldest}/name`, { name: ' ' })).status).toBe(422);
    expect((await test.send('DELETE', `/snapshots/${oldest}`)).status).toBe(204);
    for (const [method, path] of [
      ['GET', ''],
      ['DELETE', ''],
      ['PUT', '/name'],
    ] as const)
      expect(
        (await test.send(method, `/snapshots/${oldest}${path}`, method === 'PUT' ? { name: 'x' } : undefined)).status,
      ).toBe(404);
    expect((await test.send('GET', '/machines/nowhere/snapshots')).status).toBe(404);
    machine = (await save(machine, { archived: true })).body;
    expect((await test.send('DELETE', `/machines/${machine.id}`)).status).toBe(204);
    expect(await test.store.snapshots.read(listed[0]?.id ?? '')).toBeUndefined();
  });

  it('an axis taken out is kept whole and put back', async () => {
    const axis = await test.addAxis(demoAxis);
    const copy = (await test.send<AxisRecord>('POST', `/axes/${axis.id}/duplicate`, { author: 'test', name: 'Second' }))
      .body;
    await test.send('DELETE', `/axes/${axis.id}`);
    const machine = async () => (await test.send<MachineRecord>('GET', `/machines/${axis.machineId}`)).body;
    expect((await machine()).axes.map(({ id }) => id)).toEqual([copy.id]);
    expect((await machine()).removedAxes).toEqual([{ id: axis.id, name: 'Carriage' }]);
    expect((await test.send<AxisRecord>('POST', `/axes/${axis.id}/put-back`)).body.document).toEqual(demoAxis);
    expect((await machine()).axes).toHaveLength(2);
  });
});

describe('library', () => {
  const motor = (inertia: number): LibraryEntry => ({
    shelf: 'motor',
    entry: {
      ...newMotor.rotary('M'),
      kind: 'AC servo',
      ratedTorque: 2.39,
      peakTorque: 7.16,
      topSpeed: 5000,
      rotorInertia: inertia,
      encoder: { kind: 'bits', bits: '20' },
      partNumbers: 'GM-07-?20*',
      notes: '',
    },
  });
  const create = async (item: LibraryEntry) =>
    (await test.send<EntryRecord>('POST', '/library', { author: 'test', item })).body;
  const using = ({ id, version, item }: EntryRecord) => test.addAxis(withEntry(demoAxis, item, { id, version }));

  it('an entry in use is kept, and tells by whom', async () => {
    const entry = await create(motor(1.6e-4));
    const axis = await using(entry);
    const page = await test.send<{ items: EntryRecord[] }>('GET', '/library?shelf=motor&search=M');
    expect(page.body.items.find(({ id }) => id === entry.id)?.usedBy).toBe(1);
    const ordered = async (number: string) =>
      (
        await test.send<{ items: EntryRecord[] }>('GET', `/library?shelf=motor&search=${encodeURIComponent(number)}`)
      ).body.items.some(({ id }) => id === entry.id);
    expect([await ordered('gm 07 B20-K'), await ordered('GM-08'), await ordered('%')]).toEqual([true, false, false]);
    const refused = await test.send<Problem>('DELETE', `/library/${entry.id}`);
    expect([refused.status, refused.body.errors]).toEqual([409, [{ pointer: axis.id, detail: 'Cell: Carriage' }]]);
    const cable = await create(newEntry('cable', 'Ribbon'));
    const wired = await using(cable);
    expect(wired.document.cable.entry).toEqual({ id: cable.id, version: 1 });
    expect((await test.send('DELETE', `/library/${cable.id}`)).status).toBe(409);
    const idle = await create(motor(2e-4));
    expect((await test.send('DELETE', `/library/${idle.id}`)).status).toBe(204);
    expect((await test.send('GET', `/library/${idle.id}`)).status).toBe(404);
  });

  it('shows what an edited entry would change, inputs and results, and changes only the axes named, in one step', async () => {
    const entry = await create(motor(1.6e-4));
    const [first, second] = [await using(entry), await using(entry)];
    const item = motor(3.2e-4);
    const effects = (await test.send<EntryEffect[]>('POST', `/library/${entry.id}/effects`, { item })).body;
    expect(effects).toHaveLength(2);
    expect(effects[0]?.changes).toEqual([{ path: ['motor', 'rotorInertia'], before: 1.6e-4, after: 3.2e-4 }]);
    // Twice the rotor inertia halves the ratio of the load to it.
    const ratio = effects[0]?.results.find(({ symbol }) => symbol === 'inertiaRatio');
    expect(Number(ratio?.after) / Number(ratio?.before)).toBeCloseTo(0.5, 5);
    const save = (axes: { id: string; version: number }[], version = entry.version) =>
      test.send<EntryRecord>('PUT', `/library/${entry.id}`, { version, author: 'Ada', item, axes });
    const read = async (id: string) => (await test.send<AxisRecord>('GET', `/axes/${id}`)).body;
    // An axis saved since it was looked at makes the whole step stale: nothing of it is done.
    expect(
      (
        await save([
          { id: first.id, version: first.version },
          { id: second.id, version: 7 },
        ])
      ).status,
    ).toBe(409);
    expect((await read(first.id)).version).toBe(1);
    expect((await test.send<EntryRecord>('GET', `/library/${entry.id}`)).body.version).toBe(1);
    expect((await save([{ id: first.id, version: first.version }])).body.version).toBe(2);
    expect((await read(first.id)).document.motor).toMatchObject({
      rotorInertia: 3.2e-4,
      entry: { id: entry.id, version: 2 },
    });
    expect((await read(second.id)).document.motor).toMatchObject({ rotorInertia: 1.6e-4, entry: { version: 1 } });
    expect((await revisions(first.id)).items[0]).toMatchObject({
      author: 'Ada',
      summary: 'taken over from the library: M',
    });
    const stale = await save([], 1);
    expect([stale.status, (stale.body as unknown as { current: EntryRecord }).current.version]).toEqual([409, 2]);
  });

  it('goes out and comes in as JSON and CSV; what is there already is passed over', async () => {
    const bringIn = (text: string) =>
      fetch(`${test.base}/library-file?author=Ada`, {
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/plain' },
      });
    await create({ ...motor(5e-5), entry: { ...motor(5e-5).entry, name: 'Ünïque, "quoted"' } } as LibraryEntry);
    for (const query of ['', '?shelf=motor&as=csv']) {
      const { body } = await test.send<unknown>('GET', `/library-file${query}`);
      const text = typeof body === 'string' ? body : JSON.stringify(body);
      expect(await (await bringIn(text)).json()).toMatchObject({ added: 0 });
      const changed = text.replace(/Ünïque/g, `New ${query}`);
      expect(await (await bringIn(changed)).json()).toMatchObject({ added: 1 });
    }
    const refused = await bringIn('shelf,name\nmotor,\n');
    expect([refused.status, ((await refused.json()) as Problem).errors?.length]).toEqual([422, expect.any(Number)]);
  });
});
