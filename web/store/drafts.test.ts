import { newAxis, type AxisRecord } from '@kavrid/contract';
import { configureStore } from '@reduxjs/toolkit';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from './api.ts';
import { drafts, edited, loadAxis, loaded, mineKept, saveAxis, theirsTaken } from './drafts.ts';
import { live } from './live.ts';
import { preferences } from './preferences.ts';

const record = (version: number, name: string): AxisRecord => ({
  id: 'a',
  machineId: 'm',
  version,
  updatedAt: '2026-01-01T00:00:00Z',
  document: newAxis(name, 'linear'),
});
const make = () =>
  configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      drafts: drafts.reducer,
      live: live.reducer,
      preferences: preferences.reducer,
    },
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
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

describe('drafts', () => {
  const open = async () => {
    const store = make();
    answers.push({ status: 200, body: record(1, 'Lift') });
    await store.dispatch(loadAxis('a'));
    const rename = (value: string) => store.dispatch(edited({ axisId: 'a', path: ['name'], value }));
    return { store, rename, draft: () => store.getState().drafts.a };
  };

  it('loads, edits one field and saves it with the version it was made from', async () => {
    const { store, rename, draft } = await open();
    expect(draft()).toMatchObject({ version: 1, state: { kind: 'saved' } });
    rename('Hoist');
    store.dispatch(edited({ axisId: 'a', path: ['stages', 0, 'lead'], value: '5 mm' }));
    expect(draft()?.state.kind).toBe('edited');
    answers.push({ status: 200, body: record(2, 'Hoist') });
    await store.dispatch(saveAxis('a'));
    expect(requests.at(-1)).toMatchObject({
      method: 'PUT',
      body: { version: 1, document: { name: 'Hoist', stages: [{ lead: '5 mm' }] } },
    });
    expect(draft()).toMatchObject({ version: 2, state: { kind: 'saved' } });
  });

  it('an edit made while saving is not lost: the draft stays edited', async () => {
    const { store, rename, draft } = await open();
    rename('one');
    answers.push({ status: 200, body: record(2, 'one') });
    const saving = store.dispatch(saveAxis('a'));
    rename('two');
    await saving;
    expect(draft()).toMatchObject({ version: 2, document: { name: 'two' }, state: { kind: 'edited' } });
  });

  it.each([
    ['no server', undefined],
    [
      'no database',
      { status: 503, body: { title: 'The database does not answer.', status: 503, type: 'about:blank' } },
    ],
  ])('with %s the edits are kept here and sent again until they get through', async (_, failure) => {
    const { store, rename, draft } = await open();
    rename('kept');
    if (failure) answers.push(failure);
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({ document: { name: 'kept' }, state: { kind: 'kept here' } });
    answers.push({ status: 200, body: record(2, 'kept') });
    await vi.advanceTimersByTimeAsync(2500);
    expect(draft()).toMatchObject({ version: 2, state: { kind: 'saved' } });
  });

  it('a stale save asks, and either answer drops nothing silently', async () => {
    const { store, rename, draft } = await open();
    rename('mine');
    answers.push(
      { status: 409, body: { title: 'stale', status: 409, type: 'about:blank' } },
      { status: 200, body: record(5, 'theirs') },
    );
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({ document: { name: 'mine' }, state: { kind: 'conflict', theirs: { version: 5 } } });
    // While it is asked, nothing is sent, and a newer version from elsewhere does not replace the draft.
    const before = requests.length;
    await store.dispatch(saveAxis('a'));
    store.dispatch(loaded(record(6, 'later')));
    expect(requests.length).toBe(before);
    expect(draft()?.document.name).toBe('mine');
    store.dispatch(mineKept(record(5, 'theirs')));
    expect(draft()).toMatchObject({ version: 5, document: { name: 'mine' }, state: { kind: 'edited' } });
    store.dispatch(theirsTaken(record(5, 'theirs')));
    expect(draft()).toMatchObject({ version: 5, document: { name: 'theirs' }, state: { kind: 'saved' } });
  });

  it('a refused save tells the reason and keeps the edits', async () => {
    const { store, rename, draft } = await open();
    rename('x');
    answers.push({
      status: 422,
      body: { title: 'no', status: 422, type: 'about:blank', errors: [{ pointer: '/name', detail: 'too short' }] },
    });
    await store.dispatch(saveAxis('a'));
    expect(draft()).toMatchObject({
      document: { name: 'x' },
      state: { kind: 'refused', problem: { errors: [{ pointer: '/name' }] } },
    });
  });

  it('a saved draft takes what another window saved; an edited one does not', async () => {
    const { store, rename, draft } = await open();
    store.dispatch(loaded(record(2, 'elsewhere')));
    expect(draft()).toMatchObject({ version: 2, document: { name: 'elsewhere' } });
    store.dispatch(loaded(record(1, 'late answer')));
    expect(draft()?.document.name).toBe('elsewhere');
    rename('mine');
    store.dispatch(loaded(record(3, 'again')));
    expect(draft()?.document.name).toBe('mine');
  });

  it('says why an axis could not be read', async () => {
    const store = make();
    answers.push({ status: 404, body: { title: 'There is no such axis.', status: 404, type: 'about:blank' } });
    expect(await store.dispatch(loadAxis('b'))).toMatchObject({ title: 'There is no such axis.' });
    expect(await store.dispatch(loadAxis('b'))).toMatchObject({ title: 'The server does not answer.' });
  });
});
