import { Box } from '@mui/material';
import { HostPanel } from '../bench/BenchView.tsx';
import { useBenchState } from '../bench/useBench.ts';
import { useAxis } from '../member/useAxis.ts';
import { HostResult } from './HostResult.tsx';
import { IndicatorPanel } from './IndicatorPanel.tsx';
import { ProgramPanel } from './ProgramPanel.tsx';
import { RecordPanel } from './RecordPanel.tsx';

/** Moves that the controller makes through the real command path: recorded, judged, and as programs to take along. */
export function HostMovesView() {
  const bench = useBenchState();
  // Inputs pick moves: no pulses are lost, and no path is programmed.
  const isPicked = useAxis().document.command.kind === 'choice';
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '330px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <RecordPanel />
        {bench?.host && <HostPanel host={bench.host} />}
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <HostResult />
        {!isPicked && <ProgramPanel />}
        {!isPicked && <IndicatorPanel />}
      </Box>
    </Box>
  );
}
