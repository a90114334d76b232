import { newAxis, type AxisDocument, type AxisRecord } from '@kavrid/contract';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { drafts, edited, found, loaded, redone, resolved, undone, type Draft } from './drafts.ts';
import { loadAxis, saveAxis } from './saving.ts';
import { makeStore } from './store.ts';
import { endedWithTest } from '../test/screen.tsx';

const record = (version: number, name: string): AxisRecord => ({
  id: 'a',
  machineId: 'm',
  version,
  updatedAt: '2026-01-01T00:00:00Z',
  document: newAxis(name, 'linear'),
});
const answers: { status: number; body: unknown }[] = [];
const requests: { url: string; method: string; body: unknown }[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  answers.length = 0;
  requests.length = 0;
  vi.stubGlobal('fetch', (url: string, init: RequestInit = {}) => {
    requests.push({ url, method: init.method ?? 'GET', body: init.body ? JSON.parse(String(init.body)) : undefined });
    const answer = answers.shift();
    if (!answer) return Promise.reject(new TypeError('no network'));
    return Promise.resolve({
      ok: answer.status < 400,
      status: answer.status,
      json: () => Promise.resolve(answer.body),
    });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const axis = (version: number, change: Partial<AxisRecord['document']> = {}): AxisRecord => {
  const one = record(version, 'Lift');
  return { ...one, document: { ...one.document, ...change } };
};

async function open() {
  const store = endedWithTest(makeStore());
  answers.push({ status: 200, body: record(1, 'Lift') });
  await store.dispatch(loadAxis('a'));
  const edit = (path: (string | number)[], value: unknown) => store.dispatch(edited({ memberId: 'a', path, value }));
  const draft = () => store.getState().drafts.a as Draft;
  return { store, edit, rename: (name: string) => edit(['name'], name), draft };
}

describe('drafts', () => {
  it('send themselves soon after the last edit, with version and author', async () => {
    const { edit, rename, draft } = await open();
    expect(draft()).toMatchObject({ version: 1, state: { kind: 'saved' } });
    rename('Hoist');
    edit(['stages', 0, 'lead'], '5 mm');
    expect(draft().state.kind).toBe('edited');
    answers.push({ status: 200, body: axis(2, { name: 'Hoist' }) });
    await vi.advanceTimersByTimeAsync(500);
    expect(requests).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(600);
    await vi.waitFor(() => expect(draft()).toMatchObject({ version: 2, state: { kind: 'saved' } }));
    expect(requests.at(-1)).toMatchObject({
      url: '/api/axes/a',
      method: 'PUT',
      body: { version: 1, author: '', document: { name: 'Hoist', stages: [{ lead: '5 mm' }] } },
    });
  });

  it('an edit made while a save of its own accord is under way follows of its own accord', async () => {
    const { rename, draft } = await open();
    const slow: (() => void)[] = [];
    vi.stubGlobal('fetch', (_: string, init: RequestInit = {}) => {
      const { version, document } = JSON.parse(String(init.body)) as { version: number; document: { name: string } };
      const answer = { ok: true, status: 200, json: () => Promise.resolve(axis(version + 1, { name: document.name })) };
      return new Promise((resolve) => slow.push(() => resolve(answer)));
    });
    const answerNext = async () => {
      await vi.waitFor(() => expect(slow).toHaveLength(1));
      slow.shift()?.();
    };
    rename('one');
    await vi.advanceTimersByTimeAsync(1000);
    await vi.waitFor(() => expect(draft().state.kind).toBe('saving'));
    rename('two');
    await answerNext();
    await answerNext();
    await vi.waitFor(() =>
      expect(draft()).toMatchObject({ version: 3, document: { name: 'two' }, state: { kind: 'saved' } }),
    );
  });

  it('an edit made while saving is not lost: it follows with the next save', async () => {
    const { store, rename, draft } = await open();
    rename('one');
    answers.push({ status: 200, body: axis(2, { name: 'one' }) }, { status: 200, body: axis(3, { name: 'two' }) });
    const saving = store.dispatch(saveAxis('a'));
    while (draft().state.kind !== 'saving') await Promise.resolve();
    rename('two');
    await saving;
    expect(draft()).toMatchObject({ version: 2, document: { name: 'two' }, state: { kind: 'edited' } });
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({ version: 3, state: { kind: 'saved' } });
    expect(
      requests.filter(({ method }) => method === 'PUT').map(({ body }) => (body as { version: number }).version),
    ).toEqual([1, 2]);
  });

  it('saves asked for at once go one after the other, not twice', async () => {
    const { store, rename } = await open();
    rename('one');
    answers.push({ status: 200, body: axis(2, { name: 'one' }) });
    await Promise.all([1, 2, 3].map(() => store.dispatch(saveAxis('a'))));
    expect(requests.filter(({ method }) => method === 'PUT')).toHaveLength(1);
  });

  it.each([
    ['no server', undefined],
    ['no database', 503],
    ['a full disk', 507],
  ])('with %s the edits are kept here and sent again until they get through', async (_, status) => {
    const { store, rename, draft } = await open();
    rename('kept');
    if (status) answers.push({ status, body: { title: 'It does not work.', status, type: 'about:blank' } });
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({ document: { name: 'kept' }, state: { kind: 'kept here' } });
    answers.push({ status: 200, body: axis(2, { name: 'kept' }) });
    await vi.advanceTimersByTimeAsync(2500);
    expect(draft()).toMatchObject({ version: 2, state: { kind: 'saved' } });
  });

  it('a refused save tells the reason, keeps the edits, and is tried again after the next edit', async () => {
    const { store, rename, draft } = await open();
    rename('x');
    const body = { title: 'no', status: 422, type: 'about:blank', errors: [{ pointer: '/name', detail: 'too short' }] };
    answers.push({ status: 422, body });
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({
      document: { name: 'x' },
      state: { kind: 'refused', problem: { errors: [{ pointer: '/name' }] } },
    });
    rename('xyz');
    answers.push({ status: 200, body: axis(2, { name: 'xyz' }) });
    await vi.advanceTimersByTimeAsync(1500);
    expect(draft().state.kind).toBe('saved');
  });

  it('says why an axis could not be read', async () => {
    const store = endedWithTest(makeStore());
    answers.push({ status: 404, body: { title: 'There is no such axis.', status: 404, type: 'about:blank' } });
    expect(await store.dispatch(loadAxis('b'))).toMatchObject({ title: 'There is no such axis.' });
    expect(await store.dispatch(loadAxis('b'))).toMatchObject({ title: 'The server does not respond.' });
  });
});

describe('two people at one axis', () => {
  const stale = (current: AxisRecord) => ({
    status: 409,
    body: { title: 'stale', status: 409, type: 'about:blank', current, author: 'Ada' },
  });

  it('edits of different fields are put together and saved', async () => {
    const { store, rename, draft } = await open();
    rename('mine');
    answers.push(stale(axis(5, { notes: 'theirs' })), {
      status: 200,
      body: axis(6, { name: 'mine', notes: 'theirs' }),
    });
    await store.dispatch(saveAxis('a'));
    expect(requests.at(-1)?.body).toMatchObject({ version: 5, document: { name: 'mine', notes: 'theirs' } });
    expect(draft()).toMatchObject({
      version: 6,
      document: { name: 'mine', notes: 'theirs' },
      state: { kind: 'saved' },
    });
  });

  it('edits of one field are both shown and asked about; nothing is sent until then; undo brings the other back', async () => {
    const { store, edit, rename, draft } = await open();
    rename('mine');
    edit(['notes'], 'also mine');
    answers.push(stale(axis(5, { name: 'theirs', jogSpeed: 7 })));
    await store.dispatch(saveAxis('a'));
    expect(draft().state).toMatchObject({
      kind: 'conflict',
      author: 'Ada',
      conflicts: [{ path: ['name'], base: 'Lift', mine: 'mine', theirs: 'theirs' }],
    });
    const before = requests.length;
    await store.dispatch(saveAxis('a'));
    store.dispatch(loaded({ record: axis(6, { name: 'later' }) }));
    await vi.advanceTimersByTimeAsync(5000);
    expect(requests.length).toBe(before);
    store.dispatch(resolved({ memberId: 'a', mine: ['/name'] }));
    expect(draft().document).toMatchObject({ name: 'mine', notes: 'also mine', jogSpeed: 7 });
    expect(draft()).toMatchObject({ version: 5, state: { kind: 'edited' } });
    store.dispatch(undone('a'));
    expect(draft().document).toMatchObject({ name: 'theirs', notes: 'also mine' });
  });

  it('a save heard of from elsewhere goes under the edits made here, at once', async () => {
    const { store, rename, draft } = await open();
    store.dispatch(loaded({ record: axis(2, { notes: 'elsewhere' }) }));
    expect(draft()).toMatchObject({ version: 2, document: { notes: 'elsewhere' }, state: { kind: 'saved' } });
    rename('mine');
    store.dispatch(loaded({ record: axis(3, { notes: 'again' }), author: 'Ada' }));
    expect(draft()).toMatchObject({
      version: 3,
      document: { name: 'mine', notes: 'again' },
      state: { kind: 'edited' },
    });
    // Undo takes back what was typed here, not what others did.
    store.dispatch(undone('a'));
    expect(draft().document).toMatchObject({ name: 'Lift', notes: 'again' });
  });

  it('what was typed in a closed window is taken up and put on what the server has now', () => {
    const store = endedWithTest(makeStore());
    const typed: Draft = {
      document: axis(1, { name: 'typed' }).document,
      base: axis(1).document,
      version: 1,
      edits: 3,
      state: { kind: 'saving' },
      past: [],
      future: [],
    };
    store.dispatch(found({ memberId: 'a', draft: typed }));
    store.dispatch(loaded({ record: axis(4, { notes: 'newer' }) }));
    expect(store.getState().drafts.a).toMatchObject({
      version: 4,
      document: { name: 'typed', notes: 'newer' },
      state: { kind: 'edited' },
    });
  });
});

describe('undo and redo', () => {
  it('typing in one field is one step; a pause, another field or another action begins the next', async () => {
    const { store, edit, rename, draft } = await open();
    for (const text of ['H', 'Ho', 'Hoi', 'Hoist']) rename(text);
    vi.advanceTimersByTime(2000);
    rename('Hoist 2');
    vi.advanceTimersByTime(100);
    // One action that sets two fields, such as adopting a ratio.
    edit(['gear', 'numerator'], '5');
    edit(['wanted', 'resolution'], '0.01 mm');
    expect(draft().past.map((step) => [step.label, step.edits.length])).toEqual([
      ['name', 1],
      ['name', 1],
      ['gear numerator', 2],
    ]);
    const names: string[] = [];
    for (let k = 0; k < 4; k++) {
      store.dispatch(undone('a'));
      names.push(`${draft().document.name} ${(draft().document as AxisDocument).gear.numerator}`);
    }
    expect(names).toEqual(['Hoist 2 1', 'Hoist 1', 'Lift 1', 'Lift 1']);
    for (let k = 0; k < 4; k++) store.dispatch(redone('a'));
    expect(draft().document).toMatchObject({
      name: 'Hoist 2',
      gear: { numerator: '5' },
      wanted: { resolution: '0.01 mm' },
    });
    store.dispatch(undone('a'));
    rename('other');
    expect(draft().future).toEqual([]);
  });

  it('goes back hundreds of steps, and an edit that changes nothing is none', async () => {
    const { store, edit, rename, draft } = await open();
    const first = draft().document;
    for (let k = 0; k < 300; k++) {
      edit([k % 2 ? 'notes' : 'plusEnd'], `step ${k}`);
      vi.advanceTimersByTime(50);
    }
    rename('Lift');
    expect(draft().past).toHaveLength(300);
    for (let k = 0; k < 300; k++) store.dispatch(undone('a'));
    expect(draft().document).toEqual(first);
    // Added and removed stages go back whole.
    edit(['stages'], []);
    store.dispatch(undone('a'));
    expect(draft().document).toEqual(first);
    expect(drafts.getInitialState()).toEqual({});
  });
});
