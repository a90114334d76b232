import { Box } from '@mui/material';
import { Between, Column, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { ErrorBoundary } from '../ui/ErrorBoundary.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { RunTestCharts } from './RunTestCharts.tsx';
import { SpindleRunPanel } from './SpindleRunPanel.tsx';
import { useSpindle } from '../member/useSpindle.ts';

/** The run test: what is done, and how it would go. */
export function RunTestView() {
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '300px minmax(0, 1fr)' },
        alignItems: 'start',
      }}
    >
      <Box sx={{ display: 'grid', gap: 1 }}>
        <SpindleRunPanel />
        <TestFields />
      </Box>
      <ErrorBoundary what="The run">
        <RunTestCharts />
      </ErrorBoundary>
    </Box>
  );
}

function TestFields() {
  const { runTest } = useSpindle().document;
  return (
    <Panel title="Run test">
      <Column>
        <PointsTable
          label="Speeds of the run test"
          what="speed"
          path={['runTest', 'speeds']}
          rows={runTest.speeds}
          most={12}
          columns={[
            { field: 'at', title: 'At', rule: 'dwell' },
            { field: 'speed', title: 'Tool goes to', rule: 'toolSpeed' },
          ]}
          blank={{ at: null, speed: null }}
        />
        <Between>Load at the tool</Between>
        <NumberField label="Torque" path={['runTest', 'loadTorque']} rule="torque" help="empty: none" />
        <Pair>
          <NumberField label="Load applied at" path={['runTest', 'loadAt']} rule="dwell" />
          <NumberField label="Load removed at" path={['runTest', 'loadUntil']} rule="dwell" />
        </Pair>
        <Between>Supply cut</Between>
        <Pair>
          <NumberField label="Supply cut at" path={['runTest', 'cutAt']} rule="dwell" help="empty: stays on" />
          <NumberField label="Supply restored at" path={['runTest', 'cutUntil']} rule="dwell" help="empty: stays off" />
        </Pair>
        <Between>Stop</Between>
        <Pair>
          <NumberField label="Stop at" path={['runTest', 'stopAt']} rule="dwell" />
          <NumberField label="Ends at" path={['runTest', 'duration']} rule="runTime" />
        </Pair>
        <Toggle label="With the brake resistor" path={['runTest', 'withResistor']} value={runTest.withResistor} />
      </Column>
    </Panel>
  );
}
