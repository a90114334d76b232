import type { AxisDocument } from '@kavrid/contract';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { Panel } from '../ui/Panel.tsx';
import { MeasuredResponsePanel } from './MeasuredResponsePanel.tsx';
import { LoopCharts } from './LoopCharts.tsx';
import { SuggestedGainsPanel } from './SuggestedGainsPanel.tsx';
import { TraceAdvice } from './TraceAdvice.tsx';

const startWorker = () => new Worker(new URL('../jobs/tuning.worker.ts', import.meta.url), { type: 'module' });

/** The loops of the drive: margins of what is planned, gains that keep them, and what the last run says. */
export function TuningView() {
  const { document } = useAxis();
  const request = useMemo(() => document, [document]);
  const plan = useJob<AxisDocument, TuningPlan>(startWorker, request)?.result;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '330px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Panel title="Planned gains">
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
            <NumberField label="Speed loop bandwidth" path={['settings', 'speedBandwidth']} rule="bandwidth" />
            <NumberField label="Integral time" path={['settings', 'speedIntegralTime']} rule="integralTime" />
            <NumberField label="Position gain" path={['settings', 'positionGain']} rule="gain" />
            <NumberField label="Velocity feedforward" path={['settings', 'velocityFeedforward']} rule="percent" />
            <NumberField label="Inertia ratio" path={['settings', 'inertiaRatio']} rule="inertiaRatio" />
            <NumberField label="Lowest resonance" path={['tuning', 'resonance']} rule="resonance" />
          </Box>
        </Panel>
        <SuggestedGainsPanel plan={plan} />
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <LoopCharts plan={plan} />
        <MeasuredResponsePanel />
        <TraceAdvice plan={plan} />
      </Box>
    </Box>
  );
}
