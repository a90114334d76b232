import { mdiRedo, mdiUndo } from '@mdi/js';
import { Box, Button, IconButton, Tooltip, Typography } from '@mui/material';
import { useEffect } from 'react';
import { redone, saveAxis, undone, type DraftState } from '../store/drafts.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { ConflictDialog } from './ConflictDialog.tsx';
import { Icon } from './Icon.tsx';

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
      return 'Edited by two at once';
    case 'refused': {
      const [error] = state.problem.errors ?? [];
      return `Kept here only: ${error?.detail ?? state.problem.title}`;
    }
  }
}

/** How the axis on screen stands to what is saved; undo and redo (Ctrl+Z, Ctrl+Y), saving at once (Ctrl+S). */
export function StateLine({ axisId }: { readonly axisId: string }) {
  const draft = useAppSelector((state) => state.drafts[axisId]);
  const keepingFailed = useAppSelector((state) => state.live.keepingFailed);
  const dispatch = useAppDispatch();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // A dialog has its own fields, whose undo is the browser's.
      if (event.target instanceof Element && event.target.closest('[role=dialog]')) return;
      const key = event.key.toLowerCase();
      if (key === 's') void dispatch(saveAxis(axisId));
      else if (key === 'z' && !event.shiftKey) dispatch(undone(axisId));
      else if (key === 'y' || key === 'z') dispatch(redone(axisId));
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [axisId, dispatch]);
  if (!draft) return null;
  const { state, past, future } = draft;
  const [last, next] = [past.at(-1), future[0]];
  const isHereOnly = state.kind === 'kept here' || state.kind === 'refused' || state.kind === 'conflict';
  const words = wordsFor(state, draft.version);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <Typography
        role="status"
        variant="body2"
        title={isHereOnly ? words : undefined}
        noWrap
        sx={{ color: isHereOnly ? 'warning.main' : 'text.secondary', maxWidth: 330 }}
      >
        {words}
        {keepingFailed && state.kind !== 'saved' ? ` This browser keeps no drafts: ${keepingFailed}` : ''}
      </Typography>
      {state.kind === 'refused' && <Button onClick={() => void dispatch(saveAxis(axisId))}>Save</Button>}
      <Tooltip title={last ? `Undo: ${last.label} (Ctrl+Z)` : 'Nothing to undo'}>
        <span>
          <IconButton aria-label="Undo" size="small" disabled={!last} onClick={() => dispatch(undone(axisId))}>
            <Icon path={mdiUndo} />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title={next ? `Redo: ${next.label} (Ctrl+Y)` : 'Nothing to redo'}>
        <span>
          <IconButton aria-label="Redo" size="small" disabled={!next} onClick={() => dispatch(redone(axisId))}>
            <Icon path={mdiRedo} />
          </IconButton>
        </span>
      </Tooltip>
      {state.kind === 'conflict' && <ConflictDialog axisId={axisId} conflict={state} />}
    </Box>
  );
}
