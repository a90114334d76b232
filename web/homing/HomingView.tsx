import { homingMeans } from '@kavrid/contract';
import { homingMethods, type HomingMeans, type HomingPriority } from '@kavrid/core/homing';
import { Box, Tab, Tabs } from '@mui/material';
import { useMemo, useState } from 'react';
import type { HomingPlan, HomingRequest } from '../jobs/homingJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { useAxis } from '../member/useAxis.ts';
import { AbsoluteEncoderPanel } from './AbsoluteEncoderPanel.tsx';
import { HomingChoices } from './HomingChoices.tsx';
import { HomingPlaces } from './HomingPlaces.tsx';
import { HomingProof } from './HomingProof.tsx';
import { HomingWay } from './HomingWay.tsx';
import { useMappedHoming } from './mappedHoming.ts';

const startWorker = () => new Worker(new URL('../jobs/homing.worker.ts', import.meta.url), { type: 'module' });

/** Choosing a homing method, seeing its way, what it needs and how well it repeats. */
export function HomingView() {
  const { document, computation } = useAxis();
  const [changed, setChanged] = useState<Partial<HomingMeans>>({});
  const mapped = useMappedHoming();
  const [shown, setShown] = useState<Shown>('plan');
  const [priority, setPriority] = useState<HomingPriority>('repeatability');
  const means = useMemo(
    () => ({
      ...homingMeans(document, computation.results),
      known:
        document.homing.by === 'drive'
          ? mapped?.methods && homingMethods.filter((each) => each in (mapped.methods ?? {}))
          : undefined,
      ...changed,
    }),
    [document, computation.results, changed, mapped],
  );
  const request = useMemo((): HomingRequest => ({ axis: document, means, priority }), [document, means, priority]);
  const plan = useJob<HomingRequest, HomingPlan>(startWorker, request)?.result;
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <Tabs value={shown} onChange={(_, next: Shown) => setShown(next)} aria-label="Parts of homing">
        <Tab value="plan" label="Method and prediction" />
        <Tab value="proof" label="Measured and proven" />
      </Tabs>
      {shown === 'proof' ? (
        <HomingProof plan={plan} />
      ) : (
        <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '310px minmax(0, 1fr)', alignItems: 'start' }}>
          <Box sx={{ display: 'grid', gap: 1 }}>
            <HomingChoices
              means={means}
              onMeans={(more) => setChanged({ ...changed, ...more })}
              priority={priority}
              onPriority={setPriority}
              choices={plan?.choices}
            />
            <HomingPlaces />
            <AbsoluteEncoderPanel />
          </Box>
          <HomingWay plan={plan} />
        </Box>
      )}
    </Box>
  );
}

type Shown = 'plan' | 'proof';
