import { formatNumber } from '@kavrid/core/quantity';
import { Typography } from '@mui/material';
import type { MeasuredTrace } from '../jobs/traceJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { ShownUnits } from '../ui/units.ts';
import type { TraceState } from './traceState.ts';

/** Moves that are listed of a trace. */
const mostListed = 40;

/** Every demanded move of the window: how it starts, follows and settles. Choosing one shows it alone. */
export function MovesTable(props: {
  readonly measured: readonly MeasuredTrace[];
  readonly units: ShownUnits;
  readonly nameOf: (id: string) => string;
  readonly change: (part: Partial<TraceState>) => void;
}) {
  const { measured, units, nameOf, change } = props;
  const length = (value: number) => (Number.isNaN(value) ? '–' : formatNumber(units.shown(value, '{u}'), 4));
  const time = (value: number | undefined) =>
    value === undefined ? 'not reached' : `${formatNumber(1000 * value, 4)} ms`;
  const rows = measured.flatMap(({ id, moves }) =>
    moves.slice(0, mostListed).map((move, k) => ({
      key: `${id} ${k}`,
      cells: [
        `${nameOf(id)}, move ${k + 1}`,
        length(move.distance),
        Number.isNaN(move.peakSpeed) ? '–' : formatNumber(units.shown(move.peakSpeed, '{u}/s'), 4),
        time(move.riseTime),
        length(move.overshoot),
        time(move.settlingTime),
        length(move.errorAccelerating),
        length(move.errorAtSpeed),
        length(move.errorAtStop),
      ],
      onChoose: () => {
        const room = 0.1 * (move.to - move.from);
        // Up to the next one.
        const end = Math.min(move.to + room + 0.2, (moves[k + 1]?.from ?? Infinity) - 0.002);
        change({ window: [move.from - room, Math.max(end, move.to)] });
      },
    })),
  );
  if (rows.length === 0)
    return <Typography color="text.secondary">No demanded position moves within the window.</Typography>;
  const u = units.unit;
  return (
    <MeasuredTable
      label="Moves"
      heads={[
        'Move',
        `Distance, ${u}`,
        `Peak speed, ${u}/s`,
        'Rise 10–90 %',
        `Overshoot, ${u}`,
        'Settling',
        `Error accelerating, ${u}`,
        `Error at speed, ${u}`,
        `Error at stop, ${u}`,
      ]}
      rows={rows}
    />
  );
}
