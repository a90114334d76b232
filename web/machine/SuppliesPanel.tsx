import { suppliesOf, type AxisDocument, type SharedSupply } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography } from '@mui/material';
import { useMemo } from 'react';
import { Panel } from '../ui/Panel.tsx';

/** The DC supplies that axes of the machine share: what all of them draw, and what they give back when all stop. */
export function SuppliesPanel({ axes }: { readonly axes: readonly AxisDocument[] }) {
  const supplies = useMemo(() => suppliesOf(axes), [axes]);
  if (supplies.length === 0) return null;
  return (
    <Panel title="DC supplies" style={{ marginTop: 12 }}>
      {supplies.map((supply) => (
        <Supply key={supply.name} supply={supply} />
      ))}
    </Panel>
  );
}

function Supply({ supply }: { readonly supply: SharedSupply }) {
  const { name, axes, ratedCurrent, totalCurrent, totalEnergy, takesEnergyBack, voltages } = supply;
  const amps = (value: number | undefined) => (value === undefined ? 'unknown' : `${formatNumber(value, 3)} A`);
  const isWeak = ratedCurrent !== undefined && totalCurrent > ratedCurrent;
  return (
    <Box sx={{ py: 0.5 }}>
      <Typography>
        <strong>{name}</strong> {voltages.map((volts) => `${formatNumber(volts, 3)} V`).join(' or ')}
        {': '}
        <Box component="span" sx={{ color: isWeak ? 'error.main' : undefined, fontWeight: 600 }}>
          {amps(totalCurrent)} of {amps(ratedCurrent)}
        </Box>{' '}
        with all axes at peak ({axes.map((axis) => `${axis.name} ${amps(axis.peakCurrent)}`).join(', ')});{' '}
        {formatNumber(totalEnergy, 3)} J is returned when all axes stop at once
        {takesEnergyBack ? ', which it can absorb.' : ', which it cannot absorb.'}
      </Typography>
      {voltages.length > 1 && (
        <Typography variant="body2" color="error">
          The axes have different voltages entered for it.
        </Typography>
      )}
      {isWeak && (
        <Typography variant="body2" color="error">
          That exceeds its rated current: use a larger supply, or let the axes accelerate one after the other.
        </Typography>
      )}
    </Box>
  );
}
