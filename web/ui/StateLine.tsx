import { mdiRedo, mdiUndo } from '@mdi/js';
import { Button, IconButton, styled } from '@mui/material';
import { Suspense, lazy, memo, useEffect } from 'react';
import { redone, undone, type DraftState } from '../store/drafts.ts';
import { saveAxis } from '../store/saving.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { ErrorBoundary } from './ErrorBoundary.tsx';
import { Icon } from './Icon.tsx';
import { sxOnce } from './sxOnce.ts';
import { useSteady } from './useSteady.ts';

/** Seldom wanted. */
const ConflictDialog = lazy(() =>
  import('./ConflictDialog.tsx').then((module) => ({ default: module.ConflictDialog })),
);

function wordsFor(state: DraftState, version: number): string {
  switch (state.kind) {
    case 'saved':
      return `Saved, version ${version}`;
    case 'edited':
    case 'saving':
      return 'Saving …';
    case 'kept here':
      return `Kept here only: ${state.because} Trying again …`;
    case 'conflict':
      return 'Edited in two windows at once';
    case 'refused': {
      const [error] = state.problem.errors ?? [];
      return `Kept here only: ${error?.detail ?? state.problem.title}`;
    }
  }
}

/** How the axis on screen stands to what is saved; undo and redo (Ctrl+Z, Ctrl+Y), saving at once (Ctrl+S). */
export function StateLine({ memberId }: { readonly memberId: string }) {
  const draft = useAppSelector((state) => state.drafts[memberId]);
  const keepingFailed = useAppSelector((state) => state.live.keepingFailed);
  const dispatch = useAppDispatch();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // A dialog has its own fields, whose undo is the browser's.
      if (event.target instanceof Element && event.target.closest('[role=dialog]')) return;
      const key = event.key.toLowerCase();
      if (key === 's') void dispatch(saveAxis(memberId));
      else if (key === 'z' && !event.shiftKey) dispatch(undone(memberId));
      else if (key === 'y' || key === 'z') dispatch(redone(memberId));
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [memberId, dispatch]);
  const undo = useSteady(() => dispatch(undone(memberId)));
  const redo = useSteady(() => dispatch(redone(memberId)));
  if (!draft) return null;
  const { state, past, future } = draft;
  const [last, next] = [past.at(-1), future[0]];
  const isHereOnly = state.kind === 'kept here' || state.kind === 'refused' || state.kind === 'conflict';
  const words = wordsFor(state, draft.version);
  return (
    <Standing>
      <p role="status" className={isHereOnly ? 'here-only' : undefined} title={isHereOnly ? words : undefined}>
        {words}
        {keepingFailed && state.kind !== 'saved' ? ` This browser keeps no drafts: ${keepingFailed}` : ''}
      </p>
      {state.kind === 'refused' && <Button onClick={() => void dispatch(saveAxis(memberId))}>Save</Button>}
      <StepButton name="Undo" step={last?.label} keys="Ctrl+Z" path={mdiUndo} act={undo} />
      <StepButton name="Redo" step={next?.label} keys="Ctrl+Y" path={mdiRedo} act={redo} />
      {state.kind === 'conflict' && (
        <ErrorBoundary what="The choice between two edits">
          <Suspense>
            <ConflictDialog memberId={memberId} conflict={state} />
          </Suspense>
        </ErrorBoundary>
      )}
    </Standing>
  );
}

const Standing = styled('div')(
  sxOnce({
    display: 'flex',
    alignItems: 'center',
    gap: 0.5,
    '& p': {
      m: 0,
      maxWidth: 330,
      fontSize: '0.8rem',
      color: 'text.secondary',
      overflow: 'hidden',
      textOverflow: 'ellipsis',
      whiteSpace: 'nowrap',
    },
    '& .here-only': { color: 'warning.main' },
  }),
);

/** Redrawn only when there is another step to name. */
const StepButton = memo(function StepButton(props: {
  readonly name: 'Undo' | 'Redo';
  readonly step: string | undefined;
  readonly keys: string;
  readonly path: string;
  readonly act: () => void;
}) {
  const { name, step, keys, path, act } = props;
  return (
    <span title={step ? `${name}: ${step} (${keys})` : `Nothing to ${name.toLowerCase()}`}>
      <IconButton aria-label={name} size="small" disabled={step === undefined} onClick={act}>
        <Icon path={path} />
      </IconButton>
    </span>
  );
});
