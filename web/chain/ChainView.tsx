import { Box } from '@mui/material';
import { useDeferredValue, useState } from 'react';
import { AxisContext, useAxis } from '../axis/axisContext.ts';
import { FindingList } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { ChainStrip } from './ChainStrip.tsx';
import { GearChoices } from './GearChoices.tsx';
import { Results } from './Results.tsx';
import { StationFields } from './StationFields.tsx';

/** Plates and scaling: the chain as a shaft, the fields of the chosen station, and what follows from them. */
export function ChainView() {
  const axis = useAxis();
  const { computation } = axis;
  // The tables of ratios follow a frame after the numbers, so that typing is never held up by them.
  const later = useDeferredValue(axis);
  const [chosen, setChosen] = useState('drive');
  const station = computation.stations.find((each) => each.id === chosen) ?? computation.stations[0];
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <ChainStrip chosen={station?.id ?? ''} choose={setChosen} />
      <Box
        sx={{
          display: 'grid',
          gap: 1,
          gridTemplateColumns: { xs: '1fr', md: '300px minmax(330px, 1fr) minmax(340px, 1fr)' },
          alignItems: 'start',
        }}
      >
        {station && <StationFields key={station.id} station={station} choose={setChosen} />}
        <Panel title="What follows">
          <Results />
        </Panel>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Panel title={`Findings (${computation.findings.length})`}>
            <FindingList findings={computation.findings} />
          </Panel>
          <AxisContext value={later}>
            <GearChoices />
          </AxisContext>
        </Box>
      </Box>
    </Box>
  );
}
