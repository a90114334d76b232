import type { AxisDocument } from '@kavrid/contract';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { useAxis } from '../member/useAxis.ts';
import { MeasuredResponsePanel } from './MeasuredResponsePanel.tsx';
import { GainsPanel } from './GainsPanel.tsx';
import { LoopCharts } from './LoopCharts.tsx';
import { MarginsPanel } from './MarginsPanel.tsx';
import { TraceAdvice } from './TraceAdvice.tsx';
import { TrialPanel } from './TrialPanel.tsx';

const startWorker = () => new Worker(new URL('../jobs/tuning.worker.ts', import.meta.url), { type: 'module' });

/** The loops of the drive: margins of what is planned, gains that keep them, and what the last run says. */
export function TuningView() {
  const { document } = useAxis();
  const request = useMemo(() => document, [document]);
  const plan = useJob<AxisDocument, TuningPlan>(startWorker, request)?.result;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '460px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <GainsPanel plan={plan} />
        <MarginsPanel plan={plan} />
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <LoopCharts plan={plan} />
        <TrialPanel plan={plan} />
        <MeasuredResponsePanel />
        <TraceAdvice plan={plan} />
      </Box>
    </Box>
  );
}
