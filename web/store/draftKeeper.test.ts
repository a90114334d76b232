import 'fake-indexeddb/auto';
import { newAxis, type AxisRecord } from '@kavrid/contract';
import { openDB } from 'idb';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { endedWithTest } from '../test/screen.tsx';

/** Locks as the browser keeps them: one a living window. */
const held = new Set<string>();
const locks = {
  request: (name: string) => {
    held.add(name);
    return new Promise(() => undefined);
  },
  query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
};
/** Windows of an earlier test go on saving what they have: each test has an axis of its own. */
let id = 'a0';
const record = (version: number, name: string): AxisRecord => ({
  id,
  machineId: 'm',
  version,
  updatedAt: '2026-01-01T00:00:00.000Z',
  document: newAxis(name, 'linear'),
});

/** A window of its own: modules, store and lock created again, the browser's storage shared. */
async function openWindow() {
  vi.resetModules();
  const [keeper, drafts, { makeStore }] = await Promise.all([
    import('./draftKeeper.ts'),
    import('./drafts.ts'),
    import('./store.ts'),
  ]);
  const before = new Set(held);
  const store = endedWithTest(makeStore());
  keeper.keepDrafts(store);
  const lock = [...held].find((name) => !before.has(name)) ?? '';
  return {
    store,
    close: () => held.delete(lock),
    load: (axis: AxisRecord) => store.dispatch(drafts.loaded({ record: axis })),
    find: () => store.dispatch(keeper.findDraft(id)),
    rename: (value: string) => store.dispatch(drafts.edited({ memberId: id, path: ['name'], value })),
    settle: (axis: AxisRecord) =>
      store.dispatch({ type: 'drafts/saved', payload: { record: axis, edits: store.getState().drafts[id]?.edits } }),
    name: () => store.getState().drafts[id]?.document.name,
  };
}
const kept = async () => {
  const all = (await (await openDB('kavrid', 1)).getAll('drafts')) as {
    memberId: string;
    draft: { document: { name: string } };
  }[];
  return all.filter(({ memberId }) => memberId === id);
};

beforeEach(async () => {
  id = `a${Number(id.slice(1)) + 1}`;
  held.clear();
  vi.stubGlobal('navigator', { ...navigator, locks });
  vi.stubGlobal('fetch', () => Promise.reject(new TypeError('no network')));
  // The storage is made by the first window.
  await (await openWindow()).find();
});

describe('drafts in this browser', () => {
  it('are kept from the first keystroke on, the newest state of each, and forgotten once saved', async () => {
    const window = await openWindow();
    window.load(record(1, 'Lift'));
    expect(await kept()).toEqual([]);
    for (const name of ['H', 'Ho', 'Hoist']) window.rename(name);
    await vi.waitFor(async () => expect((await kept()).map(({ draft }) => draft.document.name)).toEqual(['Hoist']));
    window.settle(record(2, 'Hoist'));
    await vi.waitFor(async () => expect(await kept()).toEqual([]));
  });

  it('of a window that is gone are taken up by the next, with their undo, and put on what the server has', async () => {
    const first = await openWindow();
    first.load(record(1, 'Lift'));
    first.rename('Typed');
    await vi.waitFor(async () => expect(await kept()).toHaveLength(1));
    first.close();
    const second = await openWindow();
    await second.find();
    expect(second.name()).toBe('Typed');
    second.load({ ...record(3, 'Lift'), document: { ...record(3, 'Lift').document, notes: 'newer' } });
    expect(second.store.getState().drafts[id]).toMatchObject({
      version: 3,
      document: { name: 'Typed', notes: 'newer' },
      past: [{ label: 'name' }],
      state: { kind: 'edited' },
    });
    await vi.waitFor(async () => expect(await kept()).toHaveLength(1));
  });

  it('of a window that is still open are left to it', async () => {
    const first = await openWindow();
    first.load(record(1, 'Lift'));
    first.rename('Still typing');
    await vi.waitFor(async () => expect(await kept()).toHaveLength(1));
    const second = await openWindow();
    await second.find();
    expect(second.name()).toBeUndefined();
  });

  it('that cannot be kept are told of', async () => {
    const window = await openWindow();
    window.load(record(1, 'Lift'));
    const refuse = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('no room', 'QuotaExceededError');
    });
    window.rename('x');
    await vi.waitFor(() => expect(window.store.getState().live.keepingFailed).toContain('no room'));
    refuse.mockRestore();
    window.rename('xy');
    await vi.waitFor(() => expect(window.store.getState().live.keepingFailed).toBeUndefined());
  });
});
