import {
  mergeDocuments,
  pointerOf,
  valueAt,
  unreadBeside,
  withValueAt,
  fieldWords,
  type MemberDocument,
  type MemberRecord,
  type Conflict,
  type DocumentPath,
  type Problem,
} from '@kavrid/contract';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How a draft stands to what is saved. */
export type DraftState =
  | { readonly kind: 'saved' }
  /** Edited; sent in a moment. */
  | { readonly kind: 'edited' }
  | { readonly kind: 'saving' }
  /** Could not be sent; tried again until it works. */
  | { readonly kind: 'kept here'; readonly because: string }
  /** Someone else edited the same fields meanwhile: one of the two has to be chosen for each. */
  | { readonly kind: 'conflict'; readonly conflicts: readonly Conflict[]; readonly author: string }
  /** Not valid as it is; sent again after the next edit. */
  | { readonly kind: 'refused'; readonly problem: Problem };

/** One step of undo: fields that changed together. */
export interface EditStep {
  readonly label: string;
  readonly at: number;
  readonly edits: readonly { readonly path: DocumentPath; readonly before: unknown; readonly after: unknown }[];
}

/** An axis as it stands in this window. */
export interface Draft {
  readonly document: MemberDocument;
  /** The saved state it was made from, and its version. */
  readonly base: MemberDocument;
  readonly version: number;
  readonly edits: number;
  readonly state: DraftState;
  readonly past: readonly EditStep[];
  readonly future: readonly EditStep[];
}

/** Edits of one field closer together than this are one step of undo; so are edits made by one action. */
const togetherTime = { sameField: 1500, oneAction: 30 };
const mostSteps = 500;

export type Drafts = Readonly<Record<string, Draft | undefined>>;

const fresh = ({ document, version }: MemberRecord): Draft => ({
  document,
  base: document,
  version,
  edits: 0,
  state: { kind: 'saved' },
  past: [],
  future: [],
});

/** A draft that is on its way or in question stays so; any other is waiting to be sent. */
const touched = (draft: Draft, document: MemberDocument): Draft => ({
  ...draft,
  document,
  edits: draft.edits + 1,
  state: draft.state.kind === 'saving' || draft.state.kind === 'conflict' ? draft.state : { kind: 'edited' },
});

function withStep(past: readonly EditStep[], step: EditStep): readonly EditStep[] {
  const last = past.at(-1);
  const [edit] = step.edits;
  if (!last || !edit) return [...past, step];
  const gap = step.at - last.at;
  const isSame = ({ path }: { readonly path: DocumentPath }) => pointerOf(path) === pointerOf(edit.path);
  if (step.edits.length === 1 && last.edits.some(isSame) && gap < togetherTime.sameField) {
    const edits = last.edits.map((each) => (isSame(each) ? { ...each, after: edit.after } : each));
    return [...past.slice(0, -1), { ...last, at: step.at, edits }];
  }
  if (gap < togetherTime.oneAction)
    return [...past.slice(0, -1), { ...last, at: step.at, edits: [...last.edits, ...step.edits] }];
  return [...past, step].slice(-mostSteps);
}

/** Puts a step's values into a document: those before it, last first, or those after it. */
const applyStep = (document: MemberDocument, { edits }: EditStep, which: 'before' | 'after'): MemberDocument =>
  (which === 'before' ? [...edits].reverse() : edits).reduce(
    (at, edit) => withValueAt(at, edit.path, edit[which]),
    document,
  );

const change = (state: Drafts, memberId: string, next: (draft: Draft) => Draft): Drafts => {
  const draft = state[memberId];
  return draft ? { ...state, [memberId]: next(draft) } : state;
};

const slice = createSlice({
  name: 'drafts',
  initialState: {} as Drafts,
  reducers: {
    /** What the server has. Edits of this window are put on top of it; where both touched a field, it is asked. */
    loaded(state, { payload: { record, author = '' } }: PayloadAction<{ record: MemberRecord; author?: string }>) {
      const draft = state[record.id];
      if (!draft) return { ...state, [record.id]: fresh(record) };
      // While a save is under way its answer tells the same, or that it came too late.
      if (draft.version === record.version || draft.state.kind === 'conflict' || draft.state.kind === 'saving')
        return state;
      const merge = mergeDocuments(draft.base, draft.document, record.document);
      const isEdited = draft.state.kind !== 'saved';
      return change(state, record.id, () => ({
        ...draft,
        base: record.document,
        version: record.version,
        document: merge.document,
        edits: draft.edits + 1,
        state:
          merge.conflicts.length > 0
            ? { kind: 'conflict', conflicts: merge.conflicts, author }
            : { kind: isEdited ? 'edited' : 'saved' },
      }));
    },
    /** A draft found in this browser: typed in a window that was closed before it could be sent. */
    found: (state, { payload }: PayloadAction<{ memberId: string; draft: Draft }>) => ({
      ...state,
      [payload.memberId]: {
        ...payload.draft,
        state: payload.draft.state.kind === 'conflict' ? payload.draft.state : { kind: 'edited' },
      },
    }),
    edited: {
      prepare: (edit: { memberId: string; path: DocumentPath; value: unknown }) => ({
        payload: { ...edit, at: Date.now() },
      }),
      reducer: (
        state,
        { payload }: PayloadAction<{ memberId: string; path: DocumentPath; value: unknown; at: number }>,
      ) =>
        change(state, payload.memberId, (draft) => {
          const { path, value, at } = payload;
          const edits: { path: DocumentPath; before: unknown; after: unknown }[] = [
            { path, before: valueAt(draft.document, path), after: value },
          ];
          const { unread } = draft.document;
          // What was typed into a field that now has another value, or is not there any more, says nothing.
          const left = path[0] === 'unread' ? unread : unreadBeside(unread, path);
          if (left !== unread) edits.push({ path: ['unread'], before: unread, after: left });
          const document = edits.reduce((at, each) => withValueAt(at, each.path, each.after), draft.document);
          if (document === draft.document) return draft;
          const past = withStep(draft.past, { label: fieldWords(path), at, edits });
          return { ...touched(draft, document), past, future: [] };
        }),
    },
    undone: (state, { payload }: PayloadAction<string>) =>
      change(state, payload, (draft) => {
        const step = draft.past.at(-1);
        if (!step) return draft;
        const next = touched(draft, applyStep(draft.document, step, 'before'));
        // What is typed next begins a step of its own.
        return { ...next, past: draft.past.slice(0, -1), future: [{ ...step, at: 0 }, ...draft.future] };
      }),
    redone: (state, { payload }: PayloadAction<string>) =>
      change(state, payload, (draft) => {
        const [step, ...future] = draft.future;
        if (!step) return draft;
        return { ...touched(draft, applyStep(draft.document, step, 'after')), past: [...draft.past, step], future };
      }),
    stateChanged: (state, { payload }: PayloadAction<{ memberId: string; state: DraftState }>) =>
      change(state, payload.memberId, (draft) => ({ ...draft, state: payload.state })),
    saved: (state, { payload: { record, edits } }: PayloadAction<{ record: MemberRecord; edits: number }>) =>
      change(state, record.id, (draft) => ({
        ...draft,
        base: record.document,
        version: record.version,
        state: { kind: draft.edits === edits ? 'saved' : 'edited' },
      })),
    /** @param payload.mine pointers of the fields in which this window's value is to stand */
    resolved: (state, { payload }: PayloadAction<{ memberId: string; mine: readonly string[] }>) =>
      change(state, payload.memberId, (draft) => {
        if (draft.state.kind !== 'conflict') return draft;
        const edits = draft.state.conflicts.map(({ path, mine, theirs }) =>
          payload.mine.includes(pointerOf(path))
            ? { path, before: theirs, after: mine }
            : { path, before: mine, after: theirs },
        );
        // A step of its own, so that undo brings the other values back.
        const step: EditStep = { label: 'choice between two edits', at: 0, edits };
        return {
          ...draft,
          document: applyStep(draft.document, step, 'after'),
          edits: draft.edits + 1,
          past: [...draft.past, step],
          future: [],
          state: { kind: 'edited' },
        };
      }),
  },
});

export const drafts = slice;
export const { loaded, found, edited, undone, redone, resolved, saved, stateChanged } = slice.actions;
