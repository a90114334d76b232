import { homingModel, type MeasuredHomes } from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { Box } from '@mui/material';
import { useState } from 'react';
import { GuidedView } from '../guided/GuidedView.tsx';
import type { HomingPlan } from '../jobs/homingJob.ts';
import { useAxis } from '../member/useAxis.ts';
import { HomingSeriesPanel } from './HomingSeriesPanel.tsx';
import { HomingSpread } from './HomingSpread.tsx';
import { KeptSeries } from './KeptSeries.tsx';
import { PositioningPanel } from './PositioningPanel.tsx';
import { TwoZeros } from './TwoZeros.tsx';

/** What is measured and proven of a homing: how it repeats, where both zeros are, what home reads, how positions repeat. */
export function HomingProof({ plan }: { readonly plan: HomingPlan | undefined }) {
  const { document, computation } = useAxis();
  const [chosen, setChosen] = useState<MeasuredHomes>();
  const model = valueOf(homingModel(document, computation.results));
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', alignItems: 'start' }}>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <HomingSeriesPanel indexSpacing={model?.world.indexSpacing} />
          <KeptSeries chosen={chosen} onChoose={setChosen} />
          {plan?.spread && <HomingSpread spread={plan.spread} measured={chosen?.payload.homes} />}
        </Box>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <TwoZeros />
          <PositioningPanel />
        </Box>
      </Box>
      <GuidedView title="Homing, checked at the device" phases={['Homing']} />
    </Box>
  );
}
