import type { StepPhase } from '@kavrid/core/procedure';
import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import { ConnectButton } from '../member/ConnectButton.tsx';
import { useLinkLive } from '../member/useLive.ts';
import { useAppSelector } from '../store/store.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { FaultList } from './FaultList.tsx';
import { GuidedStepPanel } from './GuidedStepPanel.tsx';
import { GuidedStepTable } from './GuidedStepTable.tsx';

/** Guided steps of an axis: what to do, what was seen, and what may be wrong. */
export function GuidedView({ title, phases }: { readonly title: string; readonly phases: readonly StepPhase[] }) {
  const guide = useAppSelector(({ live }) => live.guide);
  const link = useLinkLive((live) => live?.link ?? 'off');
  const [chosen, setChosen] = useState<string>();
  const steps = (guide?.steps ?? []).filter(({ phase }) => phases.includes(phase));
  const underWay = guide?.run && guide.run.phase !== 'over' ? guide.run.step : undefined;
  const next = steps.find(({ result, first }) => first.length === 0 && (!result || result.staleBecause !== undefined));
  const last = guide?.run?.isHere ? guide.run.step : undefined;
  const shown = steps.find(({ id }) => id === (underWay ?? chosen ?? last)) ?? next ?? steps[0];
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 2fr) minmax(0, 3fr)' },
        alignItems: 'start',
      }}
    >
      <Panel
        title={title}
        style={windowHigh}
        aside={
          <Typography variant="body2" color="text.secondary">
            {link === 'up' ? 'linked' : link === 'connecting' ? 'connecting' : 'without a link'}
          </Typography>
        }
      >
        {link !== 'up' && (
          <Hint>
            Without a link each step is done from the keypad or the controller, and answered here as observed.
          </Hint>
        )}
        {link !== 'up' && <ConnectButton />}
        {!guide && <Hint>The steps are being worked out …</Hint>}
        {guide?.because && <Hint>{guide.because}</Hint>}
        <GuidedStepTable steps={steps} chosen={shown?.id} underWay={underWay} onChoose={setChosen} />
      </Panel>
      <Box sx={{ display: 'grid', gap: 1, minWidth: 0 }}>
        {shown && (
          <GuidedStepPanel
            key={shown.id}
            step={shown}
            next={next?.id === shown.id ? undefined : next}
            onNext={setChosen}
          />
        )}
        {guide && guide.faults.length > 0 && (
          <Panel title="What is wrong">
            <FaultList faults={guide.faults} />
          </Panel>
        )}
        {guide && steps.length > 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ px: 0.5 }}>
            Kavrid is not a safety function. Stops from this screen are no stop categories of IEC 60204-1; keep a hand
            at the hardware stop.
          </Typography>
        )}
      </Box>
    </Box>
  );
}
