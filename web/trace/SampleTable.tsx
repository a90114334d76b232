import { formatNumber } from '@kavrid/core/quantity';
import type { ViewedTraces } from '../jobs/traceJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { ShownUnits } from '../ui/units.ts';
import type { ShownChannel } from './shownChannels.ts';
import type { TraceState } from './traceState.ts';

/** Lines of the table. */
const lines = 40;

/** The curves in numbers: values at even distances over the window; the export has every sample. */
export function SampleTable(props: {
  readonly viewed: ViewedTraces;
  readonly channels: readonly ShownChannel[];
  readonly state: TraceState;
  readonly units: ShownUnits;
  readonly nameOf: (id: string) => string;
}) {
  const { viewed, channels, state, units, nameOf } = props;
  const isOverTime = state.over === 'time';
  const columns = viewed.traces.flatMap(({ id, curves }) =>
    channels.flatMap(({ id: channel, label, unit, scale }) => {
      const points = curves[channel];
      return points
        ? [{ key: `${id} ${channel}`, head: `${label}${unit === '' ? '' : `, ${unit}`}, ${nameOf(id)}`, points, scale }]
        : [];
    }),
  );
  const [first] = columns;
  const count = Math.min(lines, (first?.points.length ?? 0) / 2);
  const rows = Array.from({ length: count }, (_, k) => {
    const at = Math.floor((k * ((first?.points.length ?? 0) / 2)) / count);
    const x = first?.points[2 * at] ?? NaN;
    return {
      key: String(k),
      cells: [
        Number.isNaN(x) ? '–' : formatNumber(isOverTime ? x : units.shown(x, '{u}'), 6),
        ...columns.map(({ points, scale }) => {
          const value = isOverTime ? nearest(points, x) : (points[2 * at + 1] ?? NaN);
          return Number.isNaN(value) ? '–' : formatNumber(value * scale, 5);
        }),
      ],
    };
  });
  return (
    <MeasuredTable
      label="The curves as a table"
      heads={[isOverTime ? 'Time, s' : `Position, ${units.unit}`, ...columns.map(({ head }) => head)]}
      rows={rows}
    />
  );
}

/** The value of the point nearest in time, by halving; NaN beyond the ends of a curve. */
function nearest(points: Float64Array, x: number): number {
  const last = points.length / 2 - 1;
  if (last < 0 || x < (points[0] ?? 0) - 1e-9 || x > (points[2 * last] ?? 0) + 1e-9) return NaN;
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((points[2 * middle] ?? 0) <= x) low = middle;
    else high = middle;
  }
  const isLower = x - (points[2 * low] ?? 0) <= (points[2 * high] ?? 0) - x;
  return points[2 * (isLower ? low : high) + 1] ?? NaN;
}
