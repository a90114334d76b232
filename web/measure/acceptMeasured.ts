import type { DocumentPath } from '@kavrid/contract';
import { api } from '../store/api.ts';
import { live } from '../store/live.ts';
import { edited } from '../store/drafts.ts';
import { saveAxis } from '../store/saving.ts';
import type { AppThunk } from '../store/rootState.ts';

/** A value that a measurement puts into the axis. */
export interface MeasuredChange {
  readonly path: DocumentPath;
  readonly value: unknown;
}

/**
 * Takes measured values into the axis, saves it with the points they came from, and names that revision after them. What
 * cannot be sent yet is kept and sent later; its revision then has no name.
 */
export const acceptMeasured =
  (memberId: string, changes: readonly MeasuredChange[], name: string): AppThunk<Promise<void>> =>
  async (dispatch, getState) => {
    for (const change of changes) dispatch(edited({ memberId, ...change }));
    await dispatch(saveAxis(memberId));
    const draft = getState().drafts[memberId];
    if (draft?.state.kind !== 'saved') return;
    const revision = { id: memberId, version: draft.version, name: name.slice(0, 80) };
    const named = await dispatch(api.endpoints.nameRevision.initiate(revision));
    if (named.error)
      dispatch(
        live.actions.noticed('It is saved, but the revision could not be named. Name it on the page Revisions.'),
      );
  };
