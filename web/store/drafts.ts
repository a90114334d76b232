import type { AxisDocument, AxisRecord, Problem } from '@kavrid/contract';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { api } from './api.ts';
import type { AppThunk } from './store.ts';

/** An axis as it stands in this window, and how it stands to what is saved. */
export interface Draft {
  readonly document: AxisDocument;
  /** Version it was made from. */
  readonly version: number;
  readonly edits: number;
  readonly state:
    | { readonly kind: 'saved' }
    | { readonly kind: 'edited' }
    | { readonly kind: 'saving' }
    /** Could not be sent; tried again until it works. */
    | { readonly kind: 'kept here'; readonly because: string }
    | { readonly kind: 'conflict'; readonly theirs: AxisRecord }
    | { readonly kind: 'refused'; readonly problem: Problem };
}

export type DraftPath = readonly (string | number)[];

const slice = createSlice({
  name: 'drafts',
  initialState: {} as Record<string, Draft | undefined>,
  reducers: {
    /** What the server has; an edited draft is not touched. */
    loaded(state, { payload }: PayloadAction<AxisRecord>) {
      const draft = state[payload.id];
      if (draft && (draft.state.kind !== 'saved' || draft.version >= payload.version)) return;
      state[payload.id] = { document: payload.document, version: payload.version, edits: 0, state: { kind: 'saved' } };
    },
    edited(state, { payload }: PayloadAction<{ axisId: string; path: DraftPath; value: unknown }>) {
      const draft = state[payload.axisId];
      if (!draft) return;
      setAt(draft.document, payload.path, payload.value);
      draft.edits++;
      if (draft.state.kind !== 'saving' && draft.state.kind !== 'conflict') draft.state = { kind: 'edited' };
    },
    stateChanged(state, { payload }: PayloadAction<{ axisId: string; state: Draft['state'] }>) {
      const draft = state[payload.axisId];
      if (draft) Object.assign(draft, { state: payload.state });
    },
    saved(state, { payload }: PayloadAction<{ record: AxisRecord; edits: number }>) {
      const draft = state[payload.record.id];
      if (!draft) return;
      draft.version = payload.record.version;
      draft.state = { kind: draft.edits === payload.edits ? 'saved' : 'edited' };
    },
    theirsTaken(state, { payload }: PayloadAction<AxisRecord>) {
      state[payload.id] = { document: payload.document, version: payload.version, edits: 0, state: { kind: 'saved' } };
    },
    mineKept(state, { payload }: PayloadAction<AxisRecord>) {
      const draft = state[payload.id];
      if (!draft) return;
      draft.version = payload.version;
      draft.state = { kind: 'edited' };
    },
  },
});

/** Sets one field of a document. The path is ours, never a user's. */
function setAt(target: object, path: DraftPath, value: unknown): void {
  const last = path.at(-1);
  const parent = path.slice(0, -1).reduce<unknown>((at, key) => (at as Record<string | number, unknown>)[key], target);
  if (last !== undefined) (parent as Record<string | number, unknown>)[last] = value;
}

export const drafts = slice;
export const { loaded, edited, theirsTaken, mineKept } = slice.actions;

const retryTime = 2000;

/** Reads an axis from the server into its draft. */
export const loadAxis =
  (axisId: string): AppThunk<Promise<Problem | undefined>> =>
  async (dispatch) => {
    const answer = await ask(`/api/axes/${axisId}`);
    if ('problem' in answer) return answer.problem;
    dispatch(loaded(answer.record));
    return undefined;
  };

/** Sends the draft; on silence it is kept here and sent again until it gets through. */
export const saveAxis =
  (axisId: string): AppThunk<Promise<void>> =>
  async (dispatch, getState) => {
    const draft = getState().drafts[axisId];
    if (!draft || draft.state.kind === 'saving' || draft.state.kind === 'saved' || draft.state.kind === 'conflict')
      return;
    const state = (next: Draft['state']) => dispatch(slice.actions.stateChanged({ axisId, state: next }));
    state({ kind: 'saving' });
    const { version, document, edits } = draft;
    const answer = await ask(`/api/axes/${axisId}`, { method: 'PUT', body: JSON.stringify({ version, document }) });
    if ('record' in answer) {
      dispatch(slice.actions.saved({ record: answer.record, edits }));
      dispatch(api.util.invalidateTags(['machines']));
      return;
    }
    const { problem } = answer;
    if (problem.status === 409) {
      const theirs = await ask(`/api/axes/${axisId}`);
      state(
        'record' in theirs
          ? { kind: 'conflict', theirs: theirs.record }
          : { kind: 'kept here', because: theirs.problem.title },
      );
    } else if (problem.status >= 500) {
      state({ kind: 'kept here', because: problem.title });
      setTimeout(() => void dispatch(saveAxis(axisId)), retryTime);
    } else state({ kind: 'refused', problem });
  };

async function ask(url: string, init: RequestInit = {}): Promise<{ record: AxisRecord } | { problem: Problem }> {
  try {
    const response = await fetch(url, { ...init, headers: { 'content-type': 'application/json' } });
    const body: unknown = await response.json();
    return response.ok ? { record: body as AxisRecord } : { problem: body as Problem };
  } catch {
    return { problem: { type: 'about:blank', status: 599, title: 'The server does not answer.' } };
  }
}
