import { addressOf, changesBetween, type MemberRecord, type Problem } from '@kavrid/contract';
import { api } from './api.ts';
import { edited, loaded, saved, stateChanged, type DraftState } from './drafts.ts';
import type { AppThunk, Shared } from './rootState.ts';

/** ms after which a draft that could not be sent is sent again. */
const retryTime = 2000;

/** Reads an axis from the server into its draft. @param author of the save that made it worth reading */
export const loadAxis =
  (memberId: string, author?: string): AppThunk<Promise<Problem | undefined>> =>
  async (dispatch) => {
    const answer = await ask(addressOf('readAxis', { id: memberId }));
    if ('problem' in answer) return answer.problem;
    dispatch(loaded({ record: answer.record, ...(author === undefined ? {} : { author }) }));
    return undefined;
  };

/** Gives saves what they need to read documents, so that they need not ask a server for it. */
export const readWith =
  (withUnread: Shared['withUnread']): AppThunk =>
  (_, __, shared) => {
    shared.withUnread = withUnread;
  };

/** Sends the draft, after what is already under way. On silence it is kept here and sent again until it gets through. */
export const saveAxis =
  (memberId: string): AppThunk<Promise<void>> =>
  async (dispatch, _, { saves }) => {
    while (saves.has(memberId)) await saves.get(memberId);
    const sending = dispatch(send(memberId));
    saves.set(memberId, sending);
    await sending.finally(() => saves.delete(memberId));
  };

const send =
  (memberId: string): AppThunk<Promise<void>> =>
  async (dispatch, getState, shared) => {
    const state = (next: DraftState) => dispatch(stateChanged({ memberId, state: next }));
    const keepHere = (because: string) => {
      state({ kind: 'kept here', because });
      setTimeout(() => void dispatch(saveAxis(memberId)), retryTime);
    };
    // Drafts that a window left behind are sent without one on screen.
    shared.withUnread ??= await import('./soundDraft.ts').then(
      ({ withUnread }) => withUnread,
      () => undefined,
    );
    const { withUnread } = shared;
    const draft = getState().drafts[memberId];
    if (!draft || draft.state.kind === 'saved' || draft.state.kind === 'conflict') return;
    if (!withUnread) return keepHere(noAnswer);
    const sound = withUnread(draft.document, draft.base);
    if (sound !== draft.document) {
      for (const { path, after } of changesBetween(draft.document, sound).toSorted(
        (a, b) => Number(a.path[0] === 'unread') - Number(b.path[0] === 'unread'),
      ))
        dispatch(edited({ memberId, path, value: after }));
      return dispatch(send(memberId));
    }
    state({ kind: 'saving' });
    const { version, document, edits } = draft;
    const { author } = getState().preferences;
    const body = JSON.stringify({ version, author, document });
    const answer = await ask(addressOf('saveAxis', { id: memberId }), { method: 'PUT', body });
    if ('record' in answer) {
      dispatch(saved({ record: answer.record, edits }));
      dispatch(api.util.invalidateTags(['machines', 'revisions']));
      return;
    }
    const { problem } = answer;
    if (problem.status === 409 && problem.current) {
      state({ kind: 'edited' });
      dispatch(loaded({ record: problem.current, author: problem.author ?? '' }));
      await dispatch(send(memberId));
    } else if (problem.status >= 500) keepHere(problem.title);
    else state({ kind: 'refused', problem });
  };

const noAnswer = 'The server does not respond.';

type Answer =
  | { readonly record: MemberRecord }
  | { readonly problem: Problem & { readonly current?: MemberRecord; readonly author?: string } };

async function ask(address: string, init: RequestInit = {}): Promise<Answer> {
  try {
    const response = await fetch(`/api${address}`, { ...init, headers: { 'content-type': 'application/json' } });
    const body: unknown = await response.json();
    return response.ok ? { record: body as MemberRecord } : { problem: body as Problem };
  } catch {
    return { problem: { type: 'about:blank', status: 599, title: noAnswer } };
  }
}
