import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { edited, found, loaded, redone, resolved, saved, undone } from './drafts.ts';
import type { RootState, Shared } from './rootState.ts';
import { saveAxis } from './saving.ts';

/** ms of quiet after an edit before it is sent. */
const quietTime = 900;

/** Saves edits automatically, shortly after the last one. */
export function autosave() {
  const listener = createListenerMiddleware();
  const timers = new Map<string, ReturnType<typeof setTimeout>>();
  listener.startListening.withTypes<RootState, ThunkDispatch<RootState, Shared, UnknownAction>>()({
    // What was edited while a save was under way waits for its end.
    matcher: isAnyOf(edited, undone, redone, resolved, found, loaded, saved),
    effect: (action, { dispatch, getState }) => {
      const memberId = axisOf(action as Parameters<typeof axisOf>[0]);
      if (getState().drafts[memberId]?.state.kind !== 'edited') return;
      clearTimeout(timers.get(memberId));
      timers.set(
        memberId,
        setTimeout(() => void dispatch(saveAxis(memberId)), quietTime),
      );
    },
  });
  return listener.middleware;
}

type Watched = ReturnType<
  typeof edited | typeof undone | typeof redone | typeof resolved | typeof found | typeof loaded | typeof saved
>;

function axisOf({ payload }: Watched): string {
  if (typeof payload === 'string') return payload;
  return 'record' in payload ? payload.record.id : payload.memberId;
}
