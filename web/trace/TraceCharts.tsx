import { Box, Typography } from '@mui/material';
import { memo, useMemo } from 'react';
import type { ViewedTraces } from '../jobs/traceJob.ts';
import { extentOf, type Curve } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh, type ChartMark } from '../ui/chart/CurveChart.tsx';
import type { ChartPointer } from '../ui/chart/chartPointer.ts';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import type { ShownChannel } from './shownChannels.ts';
import { traceLook } from './traceLook.ts';
import { useTraceColours } from './useTraceColours.ts';

/** px that all charts take together, and one at least */
const [together, least] = [384, 84];

/** A chart for each channel over a common axis; the traces are laid over each other in each. */
export const TraceCharts = memo(function TraceCharts(props: {
  readonly viewed: ViewedTraces;
  readonly channels: readonly ShownChannel[];
  readonly runIds: readonly string[];
  readonly xRange: readonly [number, number];
  readonly xUnit: string;
  /** Of the x unit shown in one of the trace's. */
  readonly xScale: number;
  readonly marks: readonly ChartMark[];
  readonly pointer: ChartPointer | undefined;
}) {
  const { viewed, channels, runIds, xRange, xUnit, xScale, marks, pointer } = props;
  const height = Math.max(least, Math.floor(together / Math.max(1, channels.length)));
  return channels.map((channel, index) => (
    <Box key={channel.id} sx={{ display: 'grid', gridTemplateColumns: '34px minmax(0, 1fr)' }}>
      <Typography
        variant="body2"
        sx={{
          writingMode: 'vertical-rl',
          transform: 'rotate(180deg)',
          textAlign: 'center',
          fontSize: 12,
          lineHeight: 1.2,
          height,
        }}
      >
        {channel.unit === '' ? channel.label : `${channel.label}, ${channel.unit}`}
      </Typography>
      <ChannelChart
        {...{ viewed, channel, runIds, xRange, xUnit, xScale, marks, pointer }}
        height={index === channels.length - 1 ? height + 16 : height}
        isLast={index === channels.length - 1}
      />
    </Box>
  ));
});

/** The run that is looked at comes last, over all others. */
const inDrawingOrder = (traces: ViewedTraces['traces'], [main]: readonly string[]) => [
  ...traces.filter(({ id }) => id !== main).toReversed(),
  ...traces.filter(({ id }) => id === main),
];

function ChannelChart(props: {
  readonly viewed: ViewedTraces;
  readonly channel: ShownChannel;
  readonly runIds: readonly string[];
  readonly xRange: readonly [number, number];
  readonly xUnit: string;
  readonly xScale: number;
  readonly marks: readonly ChartMark[];
  readonly pointer: ChartPointer | undefined;
  readonly height: number;
  readonly isLast: boolean;
}) {
  const { viewed, channel, runIds, xRange, xUnit, xScale, marks, pointer, height, isLast } = props;
  const colours = useTraceColours();
  const curves = useMemo(
    () =>
      inDrawingOrder(viewed.traces, runIds).flatMap(({ id, curves }): readonly Curve[] => {
        const points = curves[channel.id];
        if (!points) return [];
        const scaled = xScale === 1 ? points : points.map((each, k) => (k % 2 === 0 ? each * xScale : each));
        return [{ points: scaled, scale: channel.scale, ...traceLook(colours, id, runIds) }];
      }),
    [viewed, channel, runIds, xScale, colours],
  );
  const [low, high] = useMemo(() => extentOf(curves), [curves]);
  return (
    <CurveChart
      label={`${channel.label} over ${xUnit === 's' ? 'time' : 'position'}`}
      {...{ curves, height, xRange, xUnit, marks }}
      {...(pointer ? { pointer } : {})}
      hideX={!isLast}
      yRange={rangeOnTicks(low, high, ticksHigh(height, !isLast))}
    />
  );
}
