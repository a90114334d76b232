import { CssBaseline } from '@mui/material';
import { ThemeProvider } from '@mui/material/styles';
import { lazy, Suspense, useEffect, useMemo } from 'react';
import { createBrowserRouter, Navigate, Outlet, RouterProvider } from 'react-router';
import { MachinesView } from './machines/MachinesView.tsx';
import { listen } from './store/liveLine.ts';
import { useAppDispatch, useAppSelector } from './store/store.ts';
import { workshopTheme } from './ui/theme.ts';
import { ErrorBoundary } from './ui/ErrorBoundary.tsx';
import { Loading } from './ui/Loading.tsx';
import { TopBar } from './ui/TopBar.tsx';

const MachineView = lazy(() => import('./machine/MachineView.tsx').then((module) => ({ default: module.MachineView })));
const AxisLayout = lazy(() => import('./axis/AxisLayout.tsx').then((module) => ({ default: module.AxisLayout })));
const LibraryView = lazy(() => import('./library/LibraryView.tsx').then((module) => ({ default: module.LibraryView })));
const RevisionsView = lazy(() =>
  import('./revisions/RevisionsView.tsx').then((module) => ({ default: module.RevisionsView })),
);
const ChainView = lazy(() => import('./chain/ChainView.tsx').then((module) => ({ default: module.ChainView })));
const SignalsView = lazy(() => import('./signals/SignalsView.tsx').then((module) => ({ default: module.SignalsView })));
const EndsView = lazy(() => import('./ends/EndsView.tsx').then((module) => ({ default: module.EndsView })));
const MeasureView = lazy(() => import('./measure/MeasureView.tsx').then((module) => ({ default: module.MeasureView })));
const FaultsView = lazy(() => import('./faults/FaultsView.tsx').then((module) => ({ default: module.FaultsView })));
const PlannedValuesView = lazy(() =>
  import('./values/PlannedValuesView.tsx').then((module) => ({ default: module.PlannedValuesView })),
);
const DriveDataView = lazy(() =>
  import('./drive/DriveDataView.tsx').then((module) => ({ default: module.DriveDataView })),
);
const BenchView = lazy(() => import('./bench/BenchView.tsx').then((module) => ({ default: module.BenchView })));
const InputsView = lazy(() => import('./inputs/InputsView.tsx').then((module) => ({ default: module.InputsView })));
const FirstPowerView = lazy(() =>
  import('./guided/FirstPowerView.tsx').then((module) => ({ default: module.FirstPowerView })),
);
const StopsView = lazy(() => import('./guided/StopsView.tsx').then((module) => ({ default: module.StopsView })));
const HomingView = lazy(() => import('./homing/HomingView.tsx').then((module) => ({ default: module.HomingView })));
const AcceptanceView = lazy(() =>
  import('./acceptance/AcceptanceView.tsx').then((module) => ({ default: module.AcceptanceView })),
);
const TuningView = lazy(() => import('./tuning/TuningView.tsx').then((module) => ({ default: module.TuningView })));
const HostMovesView = lazy(() =>
  import('./hostMoves/HostMovesView.tsx').then((module) => ({ default: module.HostMovesView })),
);
const TraceView = lazy(() => import('./trace/TraceView.tsx').then((module) => ({ default: module.TraceView })));
const MovesView = lazy(() => import('./moves/MovesView.tsx').then((module) => ({ default: module.MovesView })));

const spindleViews = () => import('./spindle/spindleViews.ts');
const spindleView = (name: keyof Awaited<ReturnType<typeof spindleViews>>) =>
  lazy(() => spindleViews().then((views) => ({ default: views[name] })));
const SpindleLayout = spindleView('SpindleLayout');
const SpindleChainView = spindleView('SpindleChainView');
const CurveView = spindleView('CurveView');
const RampsView = spindleView('RampsView');
const BusView = spindleView('BusView');
const RunTestView = spindleView('RunTestView');
const TachometerView = spindleView('TachometerView');

function Frame() {
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(listen());
  }, [dispatch]);
  return (
    <>
      <TopBar />
      <Suspense fallback={<Loading what="the screen" />}>
        <ErrorBoundary what="This page">
          <Outlet />
        </ErrorBoundary>
      </Suspense>
    </>
  );
}

const router = createBrowserRouter([
  {
    element: <Frame />,
    children: [
      { path: '/', element: <Navigate to="/machines" replace /> },
      { path: '/machines', element: <MachinesView /> },
      { path: '/library', element: <LibraryView /> },
      { path: '/library/:entryId', element: <LibraryView /> },
      { path: '/machines/:machineId', element: <MachineView /> },
      {
        path: '/machines/:machineId/axes/:memberId',
        element: <AxisLayout />,
        children: [
          { index: true, element: <Navigate to="chain" replace /> },
          { path: 'chain', element: <ChainView /> },
          { path: 'signals', element: <SignalsView /> },
          { path: 'values', element: <PlannedValuesView /> },
          { path: 'ends', element: <EndsView /> },
          { path: 'drive', element: <DriveDataView /> },
          { path: 'inputs', element: <InputsView /> },
          { path: 'bench', element: <BenchView /> },
          { path: 'first-power', element: <FirstPowerView /> },
          { path: 'homing', element: <HomingView /> },
          { path: 'moves', element: <MovesView /> },
          { path: 'host-moves', element: <HostMovesView /> },
          { path: 'traces', element: <TraceView /> },
          { path: 'tuning', element: <TuningView /> },
          { path: 'stops', element: <StopsView /> },
          { path: 'acceptance', element: <AcceptanceView /> },
          { path: 'measure', element: <MeasureView /> },
          { path: 'faults', element: <FaultsView /> },
          { path: 'revisions', element: <RevisionsView /> },
        ],
      },
      {
        path: '/machines/:machineId/spindles/:memberId',
        element: <SpindleLayout />,
        children: [
          { index: true, element: <Navigate to="chain" replace /> },
          { path: 'chain', element: <SpindleChainView /> },
          { path: 'curve', element: <CurveView /> },
          { path: 'ramps', element: <RampsView /> },
          { path: 'bus', element: <BusView /> },
          { path: 'ends', element: <EndsView /> },
          { path: 'drive', element: <DriveDataView /> },
          { path: 'first-power', element: <FirstPowerView /> },
          { path: 'run', element: <RunTestView /> },
          { path: 'traces', element: <TraceView /> },
          { path: 'acceptance', element: <AcceptanceView /> },
          { path: 'tachometer', element: <TachometerView /> },
          { path: 'revisions', element: <RevisionsView /> },
        ],
      },
      { path: '*', element: <Navigate to="/machines" replace /> },
    ],
  },
]);

export function App() {
  const mode = useAppSelector((state) => state.preferences.mode);
  const theme = useMemo(() => workshopTheme(mode), [mode]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      {/* Live values arrive twenty times a second and would starve a transition. */}
      <RouterProvider router={router} useTransitions={false} />
    </ThemeProvider>
  );
}
