import { useMember } from './memberContext.ts';
import { useAppSelector } from '../store/store.ts';

/** The version that is saved, where nothing on screen differs from it. */
export function useSavedVersion(): number | undefined {
  const { memberId } = useMember();
  return useAppSelector(({ drafts }) => {
    const draft = drafts[memberId];
    return draft?.state.kind === 'saved' ? draft.version : undefined;
  });
}
