import { formatNumber } from '@kavrid/core/quantity';
import type { SteadySpeed } from '@kavrid/core/spindle';
import { Typography } from '@mui/material';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';

/** The speed of the tool in each steady stretch of a run test, beside the commanded one. */
export function SteadySpeedsTable({
  traces,
}: {
  readonly traces: readonly { readonly name: string; readonly steady: readonly SteadySpeed[] }[];
}) {
  const rows = traces.flatMap(({ name, steady }) =>
    steady.map(({ from, to, commanded, measured, error }) => ({
      key: `${name} ${from}`,
      cells: [
        name,
        `${formatNumber(from, 3)} to ${formatNumber(to, 3)} s`,
        formatNumber(commanded, 5),
        formatNumber(Math.round(measured), 5),
        formatNumber(Number(error.toFixed(2)), 3),
      ],
    })),
  );
  if (rows.length === 0)
    return <Typography color="text.secondary">No steady speed of the run test is recorded.</Typography>;
  return (
    <MeasuredTable
      label="Steady speeds"
      heads={['Trace', 'Time span', 'Commanded, rpm of the tool', 'Measured, rpm of the tool', 'Error, %']}
      rows={rows}
    />
  );
}
