import { hasGear } from '@kavrid/core/chain';
import { Box } from '@mui/material';
import { HostPanel } from '../bench/BenchView.tsx';
import { useBenchState } from '../bench/useBench.ts';
import { useAxis } from '../member/useAxis.ts';
import { hostWay } from './hostWay.ts';
import { HostResult } from './HostResult.tsx';
import { IndicatorPanel } from './IndicatorPanel.tsx';
import { ProgramPanel } from './ProgramPanel.tsx';
import { RecordPanel } from './RecordPanel.tsx';

/** Moves that the controller makes through the real command path: recorded, judged, and as programs to take along. */
export function HostMovesView() {
  const bench = useBenchState();
  const { document, computation } = useAxis();
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '330px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <RecordPanel />
        {bench?.host && <HostPanel host={bench.host} />}
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <HostResult />
        {hostWay(document) === 'moves' && <ProgramPanel />}
        {hasGear(computation.input.command) && <IndicatorPanel />}
      </Box>
    </Box>
  );
}
