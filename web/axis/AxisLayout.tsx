import { Alert, Box, List, ListItemButton, ListItemText, Snackbar } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { NavLink, Outlet, useParams } from 'react-router';
import { loadAxis } from '../store/drafts.ts';
import { dismissRefusal, watchAxis } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Failed, Loading } from '../ui/Loading.tsx';
import { axisComputation } from './axisComputation.ts';
import { AxisContext } from './axisContext.ts';
import { stepsOf } from './steps.ts';

/** One axis: the steps of the job at the left in the order they are done, the step chosen beside them. */
export function AxisLayout() {
  const { axisId = '' } = useParams();
  const draft = useAppSelector((state) => state.drafts[axisId]);
  const { server, live, driveData, refused } = useAppSelector((state) => state.live);
  const [failed, setFailed] = useState<string>();
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(watchAxis(axisId));
    let current = true;
    void dispatch(loadAxis(axisId)).then((problem) => {
      if (current) setFailed(problem?.title);
    });
    return () => {
      current = false;
    };
  }, [axisId, dispatch]);
  const value = useMemo(
    () => draft && { axisId, draft, document: draft.document, computation: axisComputation(draft.document) },
    [axisId, draft],
  );
  if (!value) {
    return failed ? (
      <Failed
        what="The axis"
        because={failed}
        retry={() => void dispatch(loadAxis(axisId)).then((problem) => setFailed(problem?.title))}
      />
    ) : (
      <Loading what="the axis" />
    );
  }
  return (
    <AxisContext value={value}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '150px minmax(0, 1fr)', minHeight: 'calc(100vh - 49px)' }}>
        <Box component="nav" aria-label="Steps of the job" sx={{ borderRight: 1, borderColor: 'divider' }}>
          <List dense disablePadding>
            {stepsOf(value.computation, driveData, live).map((step) => (
              <ListItemButton
                key={step.route}
                component={NavLink}
                to={step.route}
                sx={{
                  borderLeft: 4,
                  borderColor: 'transparent',
                  '&.active': { borderColor: 'primary.main', bgcolor: 'action.selected' },
                }}
              >
                <ListItemText
                  primary={step.title}
                  secondary={step.standing}
                  slotProps={{
                    primary: { sx: { fontWeight: 600 } },
                    secondary: { sx: { color: step.proven ? 'success.main' : 'text.secondary' } },
                  }}
                />
              </ListItemButton>
            ))}
          </List>
        </Box>
        <Box component="main" sx={{ p: 1, minWidth: 0 }}>
          {server === 'down' && (
            <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
              The server does not answer. What you type is kept in this window; the drive’s own watchdog stops its axis.
            </Alert>
          )}
          {live?.link === 'lost' && (
            <Alert severity="error" sx={{ mb: 1, py: 0 }}>
              {live.message}
            </Alert>
          )}
          {live && live.temporary.length > 0 && (
            <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
              Changed for testing and not yet restored: {live.temporary.map((each) => each.label).join(', ')}.
              “Disconnect” or “Restore” puts it back.
            </Alert>
          )}
          <Outlet />
        </Box>
      </Box>
      <Snackbar
        open={refused !== undefined}
        autoHideDuration={8000}
        onClose={() => dispatch(dismissRefusal())}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
      >
        <Alert severity="warning" variant="filled" onClose={() => dispatch(dismissRefusal())}>
          {refused}
        </Alert>
      </Snackbar>
    </AxisContext>
  );
}
