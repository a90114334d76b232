import { gearChoices, resolutionChoices } from '@kavrid/core/chain';
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { lazy, memo, Suspense, useMemo, useState } from 'react';
import { Panel } from '../ui/Panel.tsx';
import { useWays } from './gearChoicesOnScreen.ts';
import { GearTable, type GearColumn } from './GearTable.tsx';

const GearComparison = lazy(() =>
  import('./GearComparison.tsx').then((module) => ({ default: module.GearComparison })),
);

/** Gear ratios to adopt: those near the wanted resolution, or the whole trade of resolution against speed. */
export const GearChoices = memo(function GearChoices() {
  const [which, setWhich] = useState<'fractions' | 'range'>('fractions');
  const [compares, setCompares] = useState(false);
  return (
    <Panel
      title="Gear ratios"
      aside={
        <Box sx={{ display: 'flex', gap: 0.5 }}>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={which}
            onChange={(_, chosen: typeof which | null) => chosen && setWhich(chosen)}
            aria-label="Ratios shown"
          >
            <ToggleButton value="fractions" sx={{ py: 0 }}>
              this resolution
            </ToggleButton>
            <ToggleButton value="range" sx={{ py: 0 }}>
              all resolutions
            </ToggleButton>
          </ToggleButtonGroup>
          <Button sx={{ py: 0 }} onClick={() => setCompares(true)}>
            Compare …
          </Button>
        </Box>
      }
    >
      {which === 'fractions' ? <Fractions /> : <Range />}
      {compares && (
        <Suspense fallback={null}>
          <GearComparison close={() => setCompares(false)} />
        </Suspense>
      )}
    </Panel>
  );
});

function Fractions() {
  const { ways, results } = useWays();
  const choices = useMemo(() => (ways ? gearChoices(results, ways, 6) : []), [ways, results]);
  const { wantedRatio, gearLimits } = results;
  const missing = [wantedRatio, gearLimits].find((outcome) => outcome.state === 'unknown');
  if (missing?.state === 'unknown')
    return <Typography color="text.secondary">Unknown, because {missing.because}.</Typography>;
  if (choices.length === 0) return <WaitsFor />;
  return (
    <GearTable label="Ratios for the wanted resolution" choices={choices} columns={near} takesResolution={false} />
  );
}

function Range() {
  const { ways, results } = useWays();
  const choices = useMemo(() => (ways ? resolutionChoices(results, ways) : []), [ways, results]);
  if (choices.length === 0) return <WaitsFor />;
  return (
    <>
      <GearTable label="Speed against resolution" choices={choices} columns={range} takesResolution />
      <Typography variant="body2" color="text.secondary">
        ✕ slower than wanted. Adopting a ratio also sets the resolution.
      </Typography>
    </>
  );
}

const WaitsFor = () => (
  <Typography color="text.secondary">
    Not known until encoder, mechanics, both pulse rates and the motor’s highest speed have been entered.
  </Typography>
);

const near: readonly GearColumn[] = ['ratio', 'error', 'drift', 'speed'];
const range: readonly GearColumn[] = ['resolution', 'ratio', 'speed', 'limit'];
