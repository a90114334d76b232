import { Box, useTheme } from '@mui/material';
import { useMemo } from 'react';
import { dash, extentOf, pointsOf } from './curve.ts';
import { CurveChart, ticksHigh, type ChartMark } from './CurveChart.tsx';
import { rangeOnTicks } from './ticks.ts';

export interface XySeries {
  readonly name: string;
  /** Points one by one, or x and y of each one after the other. */
  readonly points: readonly { readonly x: number; readonly y: number }[] | Float64Array;
  /** Multiplies each y; 1 where absent. */
  readonly scale?: number;
  readonly look: 'main' | 'second' | 'third';
  readonly isDashed?: boolean;
}

/** Lines over a common axis, with marks where something happens; names and units above. */
export function XyChart(props: {
  readonly label: string;
  readonly xUnit: string;
  readonly yUnit: string;
  readonly series: readonly XySeries[];
  readonly marks?: readonly ChartMark[];
  readonly levels?: readonly ChartMark[];
  readonly height: number;
  readonly xDomain: readonly [number, number];
  readonly hideX?: boolean;
}) {
  const { label, xUnit, yUnit, series, marks, levels = [], height, xDomain, hideX = false } = props;
  const { palette } = useTheme();
  const curves = useMemo(() => {
    const looks = { main: palette.primary.main, second: palette.warning.main, third: palette.text.secondary } as const;
    return series.map(({ points, look, isDashed = false, scale = 1 }) => ({
      points: points instanceof Float64Array ? points : pointsOf(points),
      scale,
      colour: looks[look],
      isDashed,
    }));
  }, [series, palette]);
  const [low, high] = extentOf(curves);
  const atLevels = levels.map(({ at }) => at);
  const yRange = rangeOnTicks(Math.min(low, ...atLevels), Math.max(high, ...atLevels), ticksHigh(height, hideX));
  return (
    <Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, fontSize: 12, pl: 1, color: 'text.secondary' }}>
        <span>{yUnit}</span>
        {series.map(({ name, isDashed }, k) => (
          <Box key={name} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
            <svg width="22" height="8" aria-hidden>
              <path
                d="M0 4h22"
                stroke={curves[k]?.colour}
                strokeWidth="2"
                strokeDasharray={isDashed ? dash.join(' ') : ''}
              />
            </svg>
            {name}
          </Box>
        ))}
      </Box>
      <CurveChart {...{ label, xUnit, curves, height, hideX, yRange, levels }} xRange={xDomain} marks={marks ?? []} />
    </Box>
  );
}
