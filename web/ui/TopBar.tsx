import { mdiAccountOutline, mdiStopCircleOutline, mdiThemeLightDark } from '@mdi/js';
import { AppBar, Box, Button, IconButton, Link, ToggleButton, ToggleButtonGroup, Toolbar } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Link as RouterLink, useParams } from 'react-router';
import { useMachineQuery } from '../store/api.ts';
import { stop } from '../store/liveLine.ts';
import { preferencesChanged } from '../store/preferences.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { ErrorBoundary } from './ErrorBoundary.tsx';
import { Icon } from './Icon.tsx';
import { StateLine } from './StateLine.tsx';

/** Seldom wanted. */
const NameDialog = lazy(() => import('./NameDialog.tsx').then((module) => ({ default: module.NameDialog })));

/** Where one is, how it stands with saving, and the stop that is always there. */
export function TopBar() {
  const { machineId, memberId } = useParams();
  const { mode, lengths } = useAppSelector((state) => state.preferences);
  const axisName = useAppSelector((state) => (memberId ? state.drafts[memberId]?.document.name : undefined));
  const { currentData } = useMachineQuery(machineId ?? '', { skip: !machineId });
  const machine = machineId ? currentData : undefined;
  const dispatch = useAppDispatch();
  const stopNow = () => dispatch(stop());
  return (
    <AppBar
      position="sticky"
      color="default"
      elevation={0}
      // Above every dialog: the stop is always within reach.
      sx={{
        borderBottom: 1,
        borderColor: 'divider',
        bgcolor: 'background.paper',
        zIndex: (theme) => theme.zIndex.modal + 1,
      }}
    >
      <Toolbar variant="dense" sx={{ gap: 1.5, minHeight: 48 }}>
        <Link
          component={RouterLink}
          to="/machines"
          underline="none"
          sx={{ fontWeight: 600, fontSize: '1.1rem', letterSpacing: '0.02em' }}
        >
          Kavrid
        </Link>
        <Box
          component="nav"
          aria-label="Breadcrumb"
          sx={{ display: 'flex', gap: 1, minWidth: 0, flex: 1, whiteSpace: 'nowrap', overflow: 'hidden' }}
        >
          {machine && (
            <>
              <span aria-hidden>/</span>
              <Link component={RouterLink} to={`/machines/${machine.id}`} color="inherit" noWrap>
                {machine.document.name}
              </Link>
            </>
          )}
          {memberId && axisName && (
            <>
              <span aria-hidden>/</span>
              <Box component="span" sx={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis' }}>
                {axisName}
              </Box>
            </>
          )}
        </Box>
        {memberId && <StateLine memberId={memberId} />}
        {!memberId && (
          <>
            <Link component={RouterLink} to="/machines" color="inherit" underline="hover">
              Machines
            </Link>
            <Link component={RouterLink} to="/library" color="inherit" underline="hover">
              Library
            </Link>
          </>
        )}
        <Author />
        <ToggleButtonGroup
          size="small"
          exclusive
          value={lengths}
          aria-label="Lengths in"
          onChange={(_, chosen: 'metric' | 'inch' | null) =>
            chosen && dispatch(preferencesChanged({ lengths: chosen }))
          }
        >
          <ToggleButton value="metric" sx={{ py: 0.25 }}>
            mm
          </ToggleButton>
          <ToggleButton value="inch" sx={{ py: 0.25 }}>
            inch
          </ToggleButton>
        </ToggleButtonGroup>
        <IconButton
          title={mode === 'light' ? 'Dark, for the shop floor' : 'Light'}
          aria-label={mode === 'light' ? 'Dark theme' : 'Light theme'}
          onClick={() => dispatch(preferencesChanged({ mode: mode === 'light' ? 'dark' : 'light' }))}
        >
          <Icon path={mdiThemeLightDark} />
        </IconButton>
        {memberId && (
          <Button
            variant="contained"
            color="error"
            size="medium"
            startIcon={<Icon path={mdiStopCircleOutline} />}
            onPointerDown={stopNow}
            onClick={stopNow}
            sx={{ fontSize: '1rem', px: 3 }}
            aria-keyshortcuts="Escape"
            title="Stop (Escape)"
          >
            Stop
          </Button>
        )}
      </Toolbar>
    </AppBar>
  );
}

/** The name under which saves are kept, given once. */
function Author() {
  const { author } = useAppSelector((state) => state.preferences);
  const [asking, setAsking] = useState(false);
  const dispatch = useAppDispatch();
  return (
    <>
      <Button
        title={author ? `Saves are recorded under this name: ${author}` : 'Saves are recorded without a name'}
        color={author ? 'inherit' : 'warning'}
        startIcon={<Icon path={mdiAccountOutline} />}
        onClick={() => setAsking(true)}
        sx={{ maxWidth: 130, '& .MuiButton-startIcon': { mr: 0.5 } }}
      >
        <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {author || 'Your name?'}
        </Box>
      </Button>
      {asking && (
        <ErrorBoundary what="The question for a name">
          <Suspense>
            <NameDialog
              title="Who is working here?"
              submit="Keep"
              initial={author}
              help="The name is recorded with every save. You are asked once per browser."
              mayBeEmpty
              onName={(name) => {
                dispatch(preferencesChanged({ author: name }));
                setAsking(false);
              }}
              close={() => setAsking(false)}
            />
          </Suspense>
        </ErrorBoundary>
      )}
    </>
  );
}
