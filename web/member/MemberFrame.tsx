import { Alert, Box, ListItemButton, ListItemText, Snackbar, styled } from '@mui/material';
import { memo, type ReactNode } from 'react';
import { NavLink, Outlet } from 'react-router';
import { dismissNotice, dismissRefusal, linkLive } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { ErrorBoundary } from '../ui/ErrorBoundary.tsx';
import { sxOnce } from '../ui/sxOnce.ts';
import { useShownField } from './useShownField.ts';

/** A step of the job, with how it stands. */
export interface Step {
  readonly route: string;
  readonly title: string;
  readonly standing: string;
  readonly proven?: boolean;
}

/** The steps of the job at the left in the order they are done, the step chosen beside them. Of itself it follows nothing. */
export const MemberFrame = memo(function MemberFrame({ steps: Steps }: { readonly steps: () => ReactNode }) {
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '150px minmax(0, 1fr)', minHeight: 'calc(100vh - 49px)' }}>
        <ErrorBoundary what="The list of steps">
          <Steps />
        </ErrorBoundary>
        <Box component="main" sx={{ p: 1, minWidth: 0 }}>
          <ShownField />
          <MemberAlerts />
          <ErrorBoundary what="This view">
            <Outlet />
          </ErrorBoundary>
        </Box>
      </Box>
      <Messages />
    </>
  );
});

/** The steps of the job, and below them what can be done at any time. */
export function StepList({ steps, further }: { readonly steps: readonly Step[]; readonly further: readonly Step[] }) {
  return (
    <JobSteps aria-label="Steps of the job">
      {[steps, further].map((group) => (
        <ul key={group[0]?.route}>
          {group.map((step) => (
            <li key={step.route}>
              <StepLink {...step} />
            </li>
          ))}
        </ul>
      ))}
    </JobSteps>
  );
}

const JobSteps = styled('nav')(
  sxOnce({
    borderRight: 1,
    borderColor: 'divider',
    '& ul': { listStyle: 'none', m: 0, p: 0 },
    '& ul + ul': { borderTop: 1, borderColor: 'divider', mt: 0.5, pt: 0.5 },
  }),
);

const StepLink = memo(function StepLink({ route, title, standing, proven }: Step) {
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

/** Of itself, so that the frame does not follow the address. */
function ShownField() {
  useShownField();
  return null;
}

function MemberAlerts() {
  const server = useAppSelector((state) => state.live.server);
  const wasLinked = useAppSelector((state) => state.live.wasLinked);
  const lost = useAppSelector((state) => {
    const live = linkLive(state);
    return live?.link === 'lost' ? live.message : undefined;
  });
  const changed = useAppSelector(
    (state) =>
      linkLive(state)
        ?.temporary.map((each) => each.label)
        .join(', ') ?? '',
  );
  return (
    <>
      {server === 'down' && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          The server does not respond. What you type is kept in this window
          {wasLinked ? '; the drive’s own watchdog stops its motor.' : '.'}
        </Alert>
      )}
      {lost !== undefined && (
        <Alert severity="error" sx={{ mb: 1, py: 0 }}>
          {lost}
        </Alert>
      )}
      {changed !== '' && (
        <Alert severity="warning" sx={{ mb: 1, py: 0 }}>
          Changed for testing and not yet restored: {changed}.
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
