import { formatNumber } from '@kavrid/core/quantity';
import { Box, useTheme } from '@mui/material';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { numberFace } from './theme.ts';

export interface XySeries {
  readonly name: string;
  readonly points: readonly { readonly x: number; readonly y: number }[];
  readonly look: 'main' | 'second' | 'third';
  readonly isDashed?: boolean;
}

/** Lines over a common axis, with marks where something happens; legend above, units at the axes. */
export function XyChart(props: {
  readonly label: string;
  readonly xUnit: string;
  readonly yUnit: string;
  readonly series: readonly XySeries[];
  readonly marks?: readonly { readonly x: number; readonly label: string; readonly isWrong?: boolean }[];
  readonly levels?: readonly { readonly y: number; readonly label: string }[];
  readonly height: number;
  readonly xDomain?: readonly [number, number];
  readonly hideX?: boolean;
}) {
  const { label, xUnit, yUnit, series, marks = [], levels = [], height, xDomain, hideX = false } = props;
  const { palette } = useTheme();
  const looks = { main: palette.primary.main, second: palette.warning.main, third: palette.text.secondary } as const;
  const tick = { fontSize: 11, fontFamily: numberFace, fill: palette.text.secondary };
  const text = { fontSize: 11, fill: palette.text.secondary };
  return (
    <Box role="img" aria-label={label}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, fontSize: 12, pl: 1, color: 'text.secondary' }}>
        <span>{yUnit}</span>
        {series.map(({ name, look, isDashed }) => (
          <Box key={name} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
            <svg width="22" height="8" aria-hidden>
              <path d="M0 4h22" stroke={looks[look]} strokeWidth="2" strokeDasharray={isDashed ? '5 3' : ''} />
            </svg>
            {name}
          </Box>
        ))}
      </Box>
      <ResponsiveContainer width="100%" height={height}>
        <LineChart margin={{ top: 6, right: 30, bottom: 0, left: 0 }}>
          <CartesianGrid stroke={palette.divider} />
          <XAxis
            type="number"
            dataKey="x"
            domain={xDomain ? [...xDomain] : ['dataMin', 'dataMax']}
            allowDataOverflow
            allowDuplicatedCategory={false}
            hide={hideX}
            tick={tick}
            unit={` ${xUnit}`}
            tickFormatter={(x: number) => formatNumber(x, 4)}
          />
          <YAxis tick={tick} width={52} tickFormatter={(y: number) => formatNumber(y, 4)} domain={['auto', 'auto']} />
          {levels.map(({ y, label: words }) => (
            <ReferenceLine
              key={words}
              y={y}
              stroke={palette.error.main}
              strokeDasharray="2 3"
              label={{ value: words, position: 'insideTopRight', ...text }}
            />
          ))}
          {marks.map(({ x, label: words, isWrong }) => (
            <ReferenceLine
              key={`${words} ${x}`}
              x={x}
              stroke={isWrong ? palette.error.main : palette.text.secondary}
              strokeDasharray="3 3"
              label={{
                value: words,
                position: 'insideBottomLeft',
                ...text,
                ...(isWrong ? { fill: palette.error.main } : {}),
              }}
            />
          ))}
          {series.map(({ name, points, look, isDashed }) => (
            <Line
              key={name}
              data={[...points]}
              dataKey="y"
              type="linear"
              dot={false}
              isAnimationActive={false}
              stroke={looks[look]}
              strokeWidth={1.6}
              strokeDasharray={isDashed ? '5 3' : ''}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </Box>
  );
}
