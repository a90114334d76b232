import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { found, type Draft } from './drafts.ts';
import { keepingFailed } from './live.ts';
import type { AppThunk } from './rootState.ts';
import type { Store } from './store.ts';

/** A draft as it lies in this browser, with the window that typed it. */
interface KeptDraft {
  readonly memberId: string;
  readonly window: string;
  readonly at: number;
  readonly draft: Draft;
}

interface Kept extends DBSchema {
  drafts: { key: [string, string]; value: KeptDraft };
}

/** This window. While it lives it holds a lock of its name, so that others can tell which drafts have lost theirs. */
const windowId = `kavrid-${crypto.randomUUID()}`;

let database: Promise<IDBPDatabase<Kept>> | undefined;
const open = () =>
  (database ??= openDB<Kept>('kavrid', 1, {
    upgrade: (made) => void made.createObjectStore('drafts', { keyPath: ['memberId', 'window'] }),
  }));

const kept = new Map<string, Draft>();
const writing = new Set<string>();

/** Keeps every draft that is not saved, from the first keystroke on, and forgets it once it is. */
export function keepDrafts(store: Store): void {
  void navigator.locks?.request(windowId, () => new Promise<never>(() => undefined));
  const keep = async (memberId: string): Promise<void> => {
    if (writing.has(memberId)) return;
    writing.add(memberId);
    try {
      for (
        let draft = store.getState().drafts[memberId];
        draft && kept.get(memberId) !== draft;
        draft = store.getState().drafts[memberId]
      ) {
        kept.set(memberId, draft);
        const drafts = await open();
        if (draft.state.kind === 'saved') await drafts.delete('drafts', [memberId, windowId]);
        else await drafts.put('drafts', { memberId, window: windowId, at: Date.now(), draft });
      }
      if (store.getState().live.keepingFailed !== undefined) store.dispatch(keepingFailed(undefined));
    } catch (error) {
      store.dispatch(keepingFailed(reason(error)));
    } finally {
      writing.delete(memberId);
    }
  };
  store.subscribe(() => {
    for (const [memberId, draft] of Object.entries(store.getState().drafts))
      if (draft && kept.get(memberId) !== draft) void keep(memberId);
  });
}

/**
 * Takes up what was typed about an axis in windows that are gone, the newest first; what the server has now is put
 * under it as soon as it is read.
 */
export const findDraft =
  (memberId: string): AppThunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (getState().drafts[memberId]) return;
    try {
      const drafts = await open();
      const all = (await drafts.getAll('drafts')).filter(
        (each) => each.memberId === memberId && each.window !== windowId,
      );
      const { held = [] } = (await navigator.locks?.query()) ?? {};
      const alive = new Set(held.map((lock) => lock.name));
      const left = all.filter((each) => !alive.has(each.window)).sort((a, b) => b.at - a.at);
      // Should there be several, the older ones are taken up one by one when this window is opened again.
      const [newest] = left;
      if (!newest || getState().drafts[memberId]) return;
      dispatch(found({ memberId, draft: newest.draft }));
      await drafts.put('drafts', { ...newest, window: windowId });
      await drafts.delete('drafts', [memberId, newest.window]);
    } catch (error) {
      dispatch(keepingFailed(reason(error)));
    }
  };

const reason = (error: unknown) => (error instanceof Error ? error.message : String(error));
