import { Box, Typography, useTheme } from '@mui/material';
import { memo, useMemo } from 'react';
import type { MoveJobResult, ShownChannel } from '../jobs/moveJob.ts';
import { extentOf, type Curve } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh } from '../ui/chart/CurveChart.tsx';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import type { ShownUnits } from '../ui/units.ts';

const charts: readonly { readonly channel: ShownChannel; readonly title: string; readonly unit: string }[] = [
  { channel: 'actualPosition', title: 'Position', unit: '{u}' },
  { channel: 'actualSpeed', title: 'Speed', unit: '{u}/s' },
  { channel: 'followingError', title: 'Following error', unit: '{u}' },
  { channel: 'torque', title: 'Torque', unit: '%' },
];

/** Measured and predicted moves over time, a chart for each channel. */
export const MoveCharts = memo(function MoveCharts(props: {
  readonly result: MoveJobResult;
  readonly homing: boolean;
  readonly units: ShownUnits;
  readonly window: readonly [number, number] | undefined;
}) {
  const { result, homing, units, window } = props;
  const xRange = window ?? [result.whole[0], Math.max(result.whole[0] + 0.001, result.whole[1])];
  return (
    <>
      {charts.map(({ channel, title, unit }, index) => (
        <Box key={channel} sx={{ display: 'grid', gridTemplateColumns: '18px minmax(0, 1fr)' }}>
          <Typography
            variant="body2"
            sx={{
              writingMode: 'vertical-rl',
              transform: 'rotate(180deg)',
              textAlign: 'center',
              fontSize: 12,
              whiteSpace: 'nowrap',
            }}
          >
            {title}, {units.name(unit)}
          </Typography>
          <ChannelChart
            {...{ result, channel, xRange, homing }}
            label={`${title} over time`}
            scale={units.shown(1, unit)}
            isLast={index === charts.length - 1}
          />
        </Box>
      ))}
    </>
  );
});

function ChannelChart(props: {
  readonly result: MoveJobResult;
  readonly channel: ShownChannel;
  readonly label: string;
  readonly scale: number;
  readonly xRange: readonly [number, number];
  readonly homing: boolean;
  readonly isLast: boolean;
}) {
  const { result, channel, label, scale, xRange, homing, isLast } = props;
  const { palette } = useTheme();
  const curves = useMemo<readonly Curve[]>(() => {
    const predicted = homing ? undefined : result.predicted?.[channel];
    const measured = result.measured?.[channel];
    return [
      ...(predicted
        ? [{ points: predicted, scale, colour: palette.warning.main, isDashed: measured !== undefined }]
        : []),
      ...(measured ? [{ points: measured, scale, colour: palette.primary.main }] : []),
    ];
  }, [result, channel, scale, homing, palette]);
  const height = isLast ? 112 : 96;
  const [low, high] = useMemo(() => extentOf(curves), [curves]);
  return (
    <CurveChart
      {...{ label, curves, height, xRange }}
      xUnit="s"
      hideX={!isLast}
      yRange={rangeOnTicks(low, high, ticksHigh(height, !isLast))}
    />
  );
}
