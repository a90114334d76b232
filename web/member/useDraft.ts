import { withUnread } from '@kavrid/contract';
import { useEffect, useState } from 'react';
import { findDraft } from '../store/draftKeeper.ts';
import type { Draft } from '../store/drafts.ts';
import { loadAxis, readWith } from '../store/saving.ts';
import { watchAxis } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** The draft of an axis or spindle, watched and loaded; why not, where it cannot be. */
export function useDraft(memberId: string): {
  readonly draft: Draft | undefined;
  readonly failed: string | undefined;
  readonly retry: () => void;
} {
  const draft = useAppSelector((state) => state.drafts[memberId]);
  const [failed, setFailed] = useState<string>();
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(readWith(withUnread));
    dispatch(watchAxis(memberId));
    let current = true;
    void dispatch(findDraft(memberId))
      .then(() => dispatch(loadAxis(memberId)))
      .then((problem) => {
        if (current) setFailed(problem?.title);
      });
    return () => {
      current = false;
    };
  }, [memberId, dispatch]);
  const retry = () => void dispatch(loadAxis(memberId)).then((problem) => setFailed(problem?.title));
  return { draft, failed, retry };
}
