import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useEffect } from 'react';
import { mineKept, saveAxis, theirsTaken } from '../store/drafts.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** How the axis on screen stands to what is saved, and the way to save it (Ctrl+S). */
export function StateLine({ axisId }: { readonly axisId: string }) {
  const draft = useAppSelector((state) => state.drafts[axisId]);
  const dispatch = useAppDispatch();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== 's' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      void dispatch(saveAxis(axisId));
    };
    const onLeave = (event: BeforeUnloadEvent) => {
      if (draft && draft.state.kind !== 'saved') event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('beforeunload', onLeave);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('beforeunload', onLeave);
    };
  }, [axisId, dispatch, draft]);
  if (!draft) return null;
  const { state } = draft;
  const words = {
    saved: `Saved, version ${draft.version}`,
    edited: 'Edited, not saved',
    saving: 'Saving …',
    'kept here': state.kind === 'kept here' ? `${state.because} Kept here; trying again …` : '',
    conflict: 'Saved elsewhere meanwhile',
    refused: state.kind === 'refused' ? `Not saved: ${state.problem.errors?.[0]?.detail ?? state.problem.title}` : '',
  }[state.kind];
  const alarming = state.kind === 'kept here' || state.kind === 'refused' || state.kind === 'conflict';
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <Typography
        role="status"
        variant="body2"
        sx={{ color: alarming ? 'warning.main' : 'text.secondary', maxWidth: 430 }}
      >
        {words}
      </Typography>
      {state.kind !== 'saved' && (
        <Button
          variant="contained"
          disabled={state.kind === 'saving' || state.kind === 'kept here'}
          onClick={() => void dispatch(saveAxis(axisId))}
        >
          Save
        </Button>
      )}
      {state.kind === 'conflict' && (
        <Dialog open aria-labelledby="conflict-title">
          <DialogTitle id="conflict-title">This axis has been saved in another window</DialogTitle>
          <DialogContent>
            <Typography>
              Version {state.theirs.version} was saved while you worked on version {draft.version}. Nothing has been
              overwritten. Which one is to stand?
            </Typography>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => dispatch(theirsTaken(state.theirs))}>Take theirs, drop my edits</Button>
            <Button
              variant="contained"
              onClick={() => {
                dispatch(mineKept(state.theirs));
                void dispatch(saveAxis(axisId));
              }}
            >
              Keep mine, save over theirs
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </Box>
  );
}
