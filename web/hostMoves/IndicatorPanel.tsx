import { hasGear } from '@kavrid/core/chain';
import { indicatorReturns } from '@kavrid/core/measure';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useKept } from '../ui/useKept.ts';
import { useShownUnits } from '../ui/units.ts';

const verdicts = {
  'none lost': 'Not one pulse is lost over all returns.',
  drifts: 'The axis comes back farther and farther away: pulses are lost or counted twice.',
  'within noise':
    'No drift beyond what the indicator scatters. More returns between the readings would show a smaller one.',
} as const;

/** Lost pulses without a link: the axis returns again and again to an indicator. */
export function IndicatorPanel() {
  const { memberId, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const [text, setText] = useKept(`indicator.${memberId}`, '');
  const [every, setEvery] = useState<number | null>(10);
  const [smallest, setSmallest] = useState<number | null>(0.01);
  const parts = text.split(/[\s;]+/).filter((part) => part !== '');
  const readings = parts.map(Number);
  const wrong = parts.find((_, k) => !Number.isFinite(readings[k]));
  const steps = hasGear(computation.input.command) ? valueOf(computation.results.stepsPerUnit) : undefined;
  const outcome =
    wrong === undefined && every !== null && smallest !== null
      ? indicatorReturns(
          readings.map((each) => units.own(each, '{u}')),
          every,
          steps && toNumber(steps),
          smallest,
        )
      : undefined;
  const length = (value: number) => units.quantity(value, '{u}');
  return (
    <Panel title="Lost pulses without a link: returns to an indicator">
      <Box sx={{ display: 'grid', gridTemplateColumns: '2fr 1fr 1fr', gap: 1 }}>
        <TextField
          label={`Readings in ${units.unit}, separated by spaces`}
          value={text}
          error={wrong !== undefined}
          helperText={
            wrong === undefined
              ? 'Set the indicator at a position; read it, let the controller move away and back so many times, read it again. Kept in this browser.'
              : `“${wrong}” is no number. Write decimals with a point.`
          }
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
        <NumberInput label="Returns between readings" rule="repeats" value={every} onValue={setEvery} />
        <NumberInput
          label="Indicator resolution"
          rule="distance"
          axisUnit={computation.input.axisUnit}
          value={smallest}
          onValue={setSmallest}
        />
      </Box>
      {outcome?.state === 'unknown' && readings.length > 0 && (
        <Typography
          variant="body2"
          color="text.secondary"
          sx={{ mt: 0.5 }}
        >{`Not known yet: ${outcome.because}.`}</Typography>
      )}
      {outcome?.state === 'known' && (
        <Box sx={{ mt: 1 }}>
          <Typography variant="body2" color={outcome.value.verdict === 'drifts' ? 'error' : undefined}>
            {verdicts[outcome.value.verdict]}
          </Typography>
          <FactTable
            label="Drift"
            rows={[
              {
                what: 'Drift of each return',
                is: `${length(outcome.value.perReturn)} ± ${length(outcome.value.uncertainty)}`,
                strong: true,
              },
              ...(outcome.value.pulsesPerReturn === undefined
                ? []
                : [{ what: 'In pulses', is: formatNumber(outcome.value.pulsesPerReturn, 3) }]),
            ]}
          />
        </Box>
      )}
    </Panel>
  );
}
