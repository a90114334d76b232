import { Alert, Box, ListItemButton, ListItemText, Snackbar } from '@mui/material';
import { memo, useEffect, useMemo, useState } from 'react';
import { NavLink, Outlet, useParams } from 'react-router';
import { findDraft } from '../store/draftKeeper.ts';
import { loadAxis } from '../store/drafts.ts';
import { dismissNotice, dismissRefusal, watchAxis } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Failed, Loading } from '../ui/Loading.tsx';
import { sheetOf } from '../ui/sheetOf.tsx';
import { axisComputation } from './axisComputation.ts';
import { AxisContext, useAxis } from './axisContext.ts';
import { stepsOf, type Step } from './steps.ts';

/** One axis: the steps of the job at the left in the order they are done, the step chosen beside them. */
export function AxisLayout() {
  const { axisId = '' } = useParams();
  const draft = useAppSelector((state) => state.drafts[axisId]);
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const [failed, setFailed] = useState<string>();
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(watchAxis(axisId));
    let current = true;
    void dispatch(findDraft(axisId))
      .then(() => dispatch(loadAxis(axisId)))
      .then((problem) => {
        if (current) setFailed(problem?.title);
      });
    return () => {
      current = false;
    };
  }, [axisId, dispatch]);
  const value = useMemo(
    () => draft && { axisId, draft, document: draft.document, computation: axisComputation(draft.document, lengths) },
    [axisId, draft, lengths],
  );
  if (!value) {
    const retry = () => void dispatch(loadAxis(axisId)).then((problem) => setFailed(problem?.title));
    return failed ? <Failed what="The axis" because={failed} retry={retry} /> : <Loading what="the axis" />;
  }
  return (
    <AxisContext value={value}>
      <AxisFrame />
    </AxisContext>
  );
}

/** Of itself it does not follow the axis. */
const AxisFrame = memo(function AxisFrame() {
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '150px minmax(0, 1fr)', minHeight: 'calc(100vh - 49px)' }}>
        <StepList />
        <Box component="main" sx={{ p: 1, minWidth: 0 }}>
          <AxisAlerts />
          <Outlet />
        </Box>
      </Box>
      <Messages />
    </>
  );
});

// What follows live values is kept in components of its own: they change twenty times a second, the views need not.

function StepList() {
  const { computation, document } = useAxis();
  const { live, driveData } = useAppSelector((state) => state.live);
  return (
    <nav aria-label="Steps of the job" className="job-steps">
      {sheet}
      <ul>
        {stepsOf(computation, document.keying.done.length, driveData, live).map((step) => (
          <li key={step.route}>
            <StepLink {...step} />
          </li>
        ))}
      </ul>
      <ul>
        <li>
          <StepLink route="measure" title="Measured scaling" standing="counts and travel, proven" />
        </li>
        <li>
          <StepLink route="faults" title="Find a fault" standing="by looking and metering" />
        </li>
        <li>
          <StepLink route="revisions" title="Revisions" standing="every save, to compare and restore" />
        </li>
      </ul>
    </nav>
  );
}

const sheet = sheetOf('job-steps', {
  borderRight: 1,
  borderColor: 'divider',
  '& ul': { listStyle: 'none', m: 0, p: 0 },
  '& ul + ul': { borderTop: 1, borderColor: 'divider', mt: 0.5, pt: 0.5 },
});

const StepLink = memo(function StepLink(props: Omit<Step, 'proven'> & { readonly proven?: boolean }) {
  const { route, title, standing, proven } = props;
  return (
    <ListItemButton
      dense
      component={NavLink}
      to={route}
      sx={{
        borderLeft: 4,
        borderColor: 'transparent',
        '&.active': { borderColor: 'primary.main', bgcolor: 'action.selected' },
      }}
    >
      <ListItemText
        primary={title}
        secondary={standing}
        slotProps={{
          primary: { sx: { fontWeight: 600 } },
          secondary: { sx: { color: proven ? 'success.main' : 'text.secondary' } },
        }}
      />
    </ListItemButton>
  );
});

function AxisAlerts() {
  const server = useAppSelector((state) => state.live.server);
  const lost = useAppSelector((state) => (state.live.live?.link === 'lost' ? state.live.live.message : undefined));
  const changed = useAppSelector((state) => state.live.live?.temporary.map((each) => each.label).join(', ') ?? '');
  return (
    <>
      {server === 'down' && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          The server does not answer. What you type is kept in this window; the drive’s own watchdog stops its axis.
        </Alert>
      )}
      {lost !== undefined && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }}>
          {lost}
        </Alert>
      )}
      {changed !== '' && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          Changed for testing and not yet restored: {changed}. “Restore” or “Disconnect” puts it back.
        </Alert>
      )}
    </>
  );
}

/** What was refused, and what someone else has saved. */
function Messages() {
  const { refused, notice } = useAppSelector((state) => state.live);
  const dispatch = useAppDispatch();
  const message = (text: string | undefined, severity: 'warning' | 'info', dismiss: () => void) => (
    <Snackbar
      open={text !== undefined}
      autoHideDuration={8000}
      onClose={dismiss}
      anchorOrigin={{ vertical: 'bottom', horizontal: severity === 'warning' ? 'center' : 'left' }}
    >
      <Alert severity={severity} variant="filled" onClose={dismiss}>
        {text}
      </Alert>
    </Snackbar>
  );
  return (
    <>
      {message(refused, 'warning', () => dispatch(dismissRefusal()))}
      {message(notice, 'info', () => dispatch(dismissNotice()))}
    </>
  );
}
