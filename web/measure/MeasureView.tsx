import { Box } from '@mui/material';
import { CountsPanel } from './CountsPanel.tsx';
import { TravelPanel } from './TravelPanel.tsx';

/** Scaling proven by measurement: the counts of a revolution, and travel against command. */
export function MeasureView() {
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '330px minmax(0, 1fr)', alignItems: 'start' }}>
      <CountsPanel />
      <TravelPanel />
    </Box>
  );
}
