import { formatNumber } from '@kavrid/core/quantity';
import { Typography } from '@mui/material';
import type { MeasuredTrace } from '../jobs/traceJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { ShownChannel } from './shownChannels.ts';
import type { Reserve } from './traceTraits.ts';

const heads = ['Channel', 'Trace', 'Lowest', 'Highest', 'Peak', 'Mean', 'RMS', 'Standard deviation', 'Missing samples'];

/** What each channel does within the window that is shown. */
export function WindowTable(props: {
  readonly measured: readonly MeasuredTrace[];
  readonly channels: readonly ShownChannel[];
  readonly nameOf: (id: string) => string;
  readonly reserve: Reserve | undefined;
}) {
  const { measured, channels, nameOf, reserve } = props;
  const rows = channels.flatMap(({ id, label, unit, scale }) =>
    measured.flatMap((each) => {
      const measures = each.channels[id];
      if (!measures) return [];
      const { least, greatest, peak, mean, rms, standardDeviation, missing } = measures;
      const values = [least, greatest, peak, mean, rms, standardDeviation].map((value) =>
        formatNumber(value * scale, 5),
      );
      return [
        {
          key: `${id} ${each.id}`,
          cells: [
            unit === '' ? label : `${label}, ${unit}`,
            nameOf(each.id),
            ...values,
            missing > 0 ? String(missing) : '–',
          ],
        },
      ];
    }),
  );
  const reserves = measured.flatMap((each) => {
    const measures = reserve && each.channels[reserve.channel];
    return measures ? [reserveWords(reserve, nameOf(each.id), measures, each.cycle)] : [];
  });
  return (
    <>
      <MeasuredTable label="Window shown" heads={heads} rows={rows} />
      {reserves.map((words) => (
        <Typography key={words} variant="body2" sx={{ mt: 0.5 }}>
          {words}
        </Typography>
      ))}
    </>
  );
}

/** What is left to the rated value and to the limit. */
function reserveWords(
  { label, unit, rated, limit }: Reserve,
  name: string,
  { peak, rms }: { readonly peak: number; readonly rms: number },
  cycle: MeasuredTrace['cycle'],
): string {
  const value = (number: number) => `${formatNumber(number, 3)} ${unit}`;
  const mean = cycle?.rms ?? rms;
  const over = cycle
    ? `over ${cycle.cycles === 1 ? 'a cycle' : `${cycle.cycles} cycles`} of ${formatNumber(cycle.period, 3)} s`
    : 'over the window, in which no cycle repeats,';
  const long = `${label}, ${name}: RMS ${value(mean)} ${over} leaves ${value(rated - mean)} to the rated ${value(rated)}`;
  const short = limit
    ? `; peak ${value(peak)} leaves ${value(limit.value - peak)} to the ${limit.name} of ${value(limit.value)}`
    : '';
  return `${long}${short}.`;
}
