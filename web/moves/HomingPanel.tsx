import { predictedHoming } from '@kavrid/contract';
import { homingMethodFacts } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { isReady } from '../member/isReady.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { HomingMethodField } from './HomingMethodField.tsx';

export function HomingPanel() {
  const { memberId, document } = useAxis();
  const dispatch = useAppDispatch();
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const { by } = document.homing;
  return (
    <Panel
      title="Homing"
      aside={
        <Button
          variant="contained"
          disabled={!ready || by !== 'drive'}
          onClick={() => {
            void dispatch(act(memberId, (version) => ({ type: 'home', version })));
          }}
        >
          Home
        </Button>
      }
    >
      {by === 'controller' && (
        <Typography variant="body2" sx={{ mb: 1 }}>
          The plan says that the controller homes this axis. Home it there.
        </Typography>
      )}
      <HomingMethodField />
      <Prediction />
    </Panel>
  );
}

/** How far and how long at most, from any start. */
function Prediction() {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const facts = homingMethodFacts(document.homing.method);
  if (facts.kind === 'here') return null;
  const { usesIndex } = facts;
  const predicted = predictedHoming(document, computation.results);
  if (predicted.state === 'unknown')
    return (
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        No prediction: {predicted.because}. Complete the planned values.
      </Typography>
    );
  const { longest, indexSpacing, isWithoutLag } = predicted.value;
  const shown = (value: number) => `${formatNumber(units.shown(value, '{u}'), 3)} ${units.unit}`;
  const room =
    facts.kind !== 'edge' || facts.input === 'homeSwitch'
      ? `Runs up to ${shown(longest.overrun)} past a switch: leave that much room behind the limits.`
      : `Runs up to ${shown(longest.overrun)} past the switch: leave that much room.`;
  return (
    <Box component="p" sx={{ m: 0, mt: 0.5, fontSize: 12.5, color: 'text.secondary' }}>
      {longest.because === undefined
        ? `Takes at most ${formatNumber(longest.seconds, 3)} s. ${room}`
        : `Fails: ${longest.because}.`}
      {usesIndex ? ` An index pulse comes every ${shown(indexSpacing)}.` : ''}
      {isWithoutLag ? ' The following error is not included, because no position gain is planned.' : ''}
    </Box>
  );
}
