import { Box } from '@mui/material';
import { lazy, Suspense } from 'react';
import { ErrorBoundary } from '../ui/ErrorBoundary.tsx';
import { Loading } from '../ui/Loading.tsx';
import { HomingPanel } from './HomingPanel.tsx';
import { JogPanel } from './JogPanel.tsx';
import { MovesPanel } from './MovesPanel.tsx';

const TracePanel = lazy(() => import('./TracePanel.tsx').then((module) => ({ default: module.TracePanel })));

/** First power, jogging, homing and test moves, with the trace laid over its prediction. */
export function MovesView() {
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '280px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <JogPanel />
        <HomingPanel />
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <MovesPanel />
        <ErrorBoundary what="The trace">
          <Suspense fallback={<Loading what="the charts" />}>
            <TracePanel />
          </Suspense>
        </ErrorBoundary>
      </Box>
    </Box>
  );
}
