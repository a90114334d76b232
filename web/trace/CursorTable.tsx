import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import type { ViewedTraces } from '../jobs/traceJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import type { ShownChannel } from './shownChannels.ts';
import type { TraceState } from './traceState.ts';

/** Two cursors: the value of every channel at each, what lies between them, and the slope. */
export function CursorTable(props: {
  readonly viewed: ViewedTraces;
  readonly channels: readonly ShownChannel[];
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly nameOf: (id: string) => string;
}) {
  const { viewed, channels, state, change, nameOf } = props;
  const [a, b] = state.cursors;
  const apart = a === undefined || b === undefined ? undefined : b - a;
  const shown = (value: number | undefined, scale: number) =>
    value === undefined || Number.isNaN(value) ? '–' : formatNumber(value * scale, 6);
  const rows = channels.flatMap(({ id, label, unit, scale }) =>
    viewed.traces.flatMap((trace) => {
      const [atA, atB] = trace.atCursors[id] ?? [];
      if (!trace.curves[id]) return [];
      const difference = atA === undefined || atB === undefined ? undefined : atB - atA;
      const slope = difference === undefined || !apart ? undefined : difference / apart;
      return [
        {
          key: `${id} ${trace.id}`,
          cells: [
            unit === '' ? label : `${label}, ${unit}`,
            nameOf(trace.id),
            shown(atA, scale),
            shown(atB, scale),
            shown(difference, scale),
            shown(slope, scale),
          ],
        },
      ];
    }),
  );
  return (
    <>
      <Box
        sx={{ display: 'flex', gap: 1, alignItems: 'center', mt: 1, mb: 0.5, '& .MuiTextField-root': { width: 130 } }}
      >
        <NumberInput
          label="Cursor A"
          rule="anyTime"
          value={a ?? null}
          onValue={(at) => change({ cursors: [at ?? undefined, b] })}
        />
        <NumberInput
          label="Cursor B"
          rule="anyTime"
          value={b ?? null}
          onValue={(at) => change({ cursors: [a, at ?? undefined] })}
        />
        <Typography variant="body2">
          {apart === undefined
            ? 'Click in a chart for cursor A, with the shift key for cursor B. Drag to zoom, with the shift key to move.'
            : `B is ${formatNumber(apart, 6)} s after A${apart === 0 ? '' : `, as a period ${formatNumber(1 / Math.abs(apart), 5)} Hz`}.`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button
          disabled={a === undefined && b === undefined}
          onClick={() => change({ cursors: [undefined, undefined] })}
        >
          Remove the cursors
        </Button>
      </Box>
      <MeasuredTable
        label="Values at the cursors"
        heads={['Channel', 'Trace', 'At A', 'At B', 'B less A', 'Slope, per second']}
        rows={rows}
      />
    </>
  );
}
