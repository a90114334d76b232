import { homingMethodFacts, homingMethods, predictHoming } from '@kavrid/core/homing';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button, Typography } from '@mui/material';
import { useAxis } from '../axis/axisContext.ts';
import { useEdit } from '../member/memberContext.ts';
import { act } from '../store/live.ts';
import { isReady } from '../member/isReady.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';

export function HomingPanel() {
  const { axisId, document } = useAxis();
  const dispatch = useAppDispatch();
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const edit = useEdit();
  return (
    <Panel
      title="Homing"
      aside={
        <Button
          variant="contained"
          disabled={!ready}
          onClick={() => {
            void dispatch(act(axisId, (version) => ({ type: 'home', version })));
          }}
        >
          Home
        </Button>
      }
    >
      <ChoiceField
        label="Method"
        value={document.homing.method}
        onChange={(method) => edit(['homing', 'method'], method)}
        choices={homingMethods.map(({ method, name }) => ({ value: method, label: `${method} · ${name}` }))}
        help={homingMethodFacts(document.homing.method).when}
      />
      <Prediction />
    </Panel>
  );
}

/** How far and how long: from mid-travel, at worst from the far end. */
function Prediction() {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { method, searchSpeed, creepSpeed, acceleration, homeOffset } = document.homing;
  const travel = valueOf(computation.results.travel);
  const turn = valueOf(computation.results.travelPerTurn);
  const ratio = valueOf(computation.results.transmissionRatio);
  if (!homingMethodFacts(method).moves) return null;
  if (searchSpeed === null || creepSpeed === null || acceleration === null || !travel || !turn || !ratio) {
    return (
      <Typography variant="body2">
        No prediction: fill in the homing speeds and acceleration under Drive data, and the travel.
      </Typography>
    );
  }
  const spacing = toNumber(turn) / toNumber(ratio);
  const predicted = predictHoming(
    { method, searchSpeed, creepSpeed, acceleration, homeOffset: homeOffset ?? 0 },
    { start: toNumber(travel), minusEdge: 0, indexSpacing: spacing, indexAt: spacing / 2, scanPeriod: 0.001 },
  );
  const shown = (value: number) => `${formatNumber(units.shown(value, '{u}'), 3)} ${units.unit}`;
  return (
    <Box component="p" sx={{ m: 0, mt: 0.5, fontSize: 12.5, color: 'text.secondary' }}>
      From the far end at most {formatNumber(predicted.seconds, 3)} s. Runs {shown(predicted.overrun)} past the switch:
      leave room for it.
      {method === 1 ? ` An index pulse comes every ${shown(spacing)}.` : ''}
    </Box>
  );
}
