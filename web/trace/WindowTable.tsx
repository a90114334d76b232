import type { AxisDocument } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Typography } from '@mui/material';
import type { MeasuredTrace } from '../jobs/traceJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { ShownChannel } from './shownChannels.ts';

const heads = ['Channel', 'Trace', 'Lowest', 'Highest', 'Peak', 'Mean', 'RMS', 'About the mean', 'Missing samples'];

/** What each channel does within the window that is shown. */
export function WindowTable(props: {
  readonly measured: readonly MeasuredTrace[];
  readonly channels: readonly ShownChannel[];
  readonly nameOf: (id: string) => string;
  readonly settings: AxisDocument['settings'];
}) {
  const { measured, channels, nameOf, settings } = props;
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
  const limit = settings.torqueLimit;
  const torque = measured.flatMap((each) => {
    const measures = each.channels.torque;
    return measures ? [{ name: nameOf(each.id), peak: measures.peak, rms: measures.rms, cycle: each.cycle }] : [];
  });
  return (
    <>
      <MeasuredTable label="Window shown" heads={heads} rows={rows} />
      {torque.map(({ name, peak, rms, cycle }) => (
        <Typography key={name} variant="body2" sx={{ mt: 0.5 }}>
          {`Torque reserve, ${name}: RMS ${formatNumber(cycle?.rms ?? rms, 3)} % ${
            cycle
              ? `over ${cycle.cycles === 1 ? 'a cycle' : `${cycle.cycles} cycles`} of ${formatNumber(cycle.period, 3)} s`
              : 'over the window, in which no cycle repeats,'
          } leaves ${formatNumber(100 - (cycle?.rms ?? rms), 3)} % of rated${
            limit === null
              ? ''
              : `; peak ${formatNumber(peak, 3)} % leaves ${formatNumber(limit - peak, 3)} % to the torque limit of ${formatNumber(limit, 3)} %`
          }.`}
        </Typography>
      ))}
    </>
  );
}
