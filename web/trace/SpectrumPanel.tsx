import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography } from '@mui/material';
import type { MeasuredTrace } from '../jobs/traceJob.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { extentOf } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh } from '../ui/chart/CurveChart.tsx';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { ShownChannel } from './shownChannels.ts';
import { traceLook } from './traceLook.ts';
import { useTraceColours } from './useTraceColours.ts';

const height = 190;

/** Amplitude over frequency of one channel within the window shown, and the frequencies that stand out. */
export function SpectrumPanel(props: {
  readonly measured: readonly MeasuredTrace[];
  readonly all: readonly ShownChannel[];
  readonly runIds: readonly string[];
  readonly of: string;
  readonly choose: (id: string) => void;
  readonly nameOf: (id: string) => string;
}) {
  const { measured, all, runIds, of, choose, nameOf } = props;
  const colours = useTraceColours();
  const channel = all.find(({ id }) => id === of);
  const scale = channel?.scale ?? 1;
  const curves = measured.flatMap(({ id, spectrum }) =>
    spectrum.length > 0 ? [{ points: spectrum, scale, ...traceLook(colours, id, runIds) }] : [],
  );
  const [low, high] = extentOf(curves);
  const top = Math.max(1, ...curves.map(({ points }) => points.at(-2) ?? 1));
  const rows = measured.flatMap(({ id, peaks }) =>
    peaks.map(({ hertz, amplitude }, k) => ({
      key: `${id} ${k}`,
      cells: [nameOf(id), formatNumber(hertz, 4), formatNumber(amplitude * scale, 4)],
    })),
  );
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 330px', gap: 1, mt: 1 }}>
      {curves.length === 0 ? (
        <Typography color="text.secondary">The window holds too few samples for a spectrum.</Typography>
      ) : (
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" sx={{ fontSize: 12 }}>
            {`Amplitude of ${channel?.label.toLowerCase() ?? ''}${channel && channel.unit !== '' ? `, ${channel.unit}` : ''}`}
          </Typography>
          <CurveChart
            label={`Spectrum of ${channel?.label.toLowerCase() ?? ''}`}
            xUnit="Hz"
            {...{ curves, height }}
            xRange={[0, top]}
            yRange={rangeOnTicks(Math.min(0, low), high, ticksHigh(height, false))}
          />
        </Box>
      )}
      <Box sx={{ display: 'grid', gap: 1, alignContent: 'start' }}>
        <ChoiceField
          label="Spectrum of"
          value={of}
          choices={all.map(({ id, label }) => ({ value: id, label }))}
          onChange={choose}
        />
        <MeasuredTable
          label="Frequencies that stand out"
          heads={['Trace', 'Hz', `Amplitude${channel && channel.unit !== '' ? `, ${channel.unit}` : ''}`]}
          rows={rows}
        />
      </Box>
    </Box>
  );
}
