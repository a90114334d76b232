import { scatterOf, type Repeatability } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography, useTheme } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { histogramOf } from './histogramOf.ts';

const [width, height] = [360, 56];

/** How well homing repeats, as predicted, and how likely it jumps by a whole turn. */
export function HomingSpread(props: {
  readonly spread: Repeatability;
  /** Measured homes that are drawn over it, each from their mean. */
  readonly measured: readonly number[] | undefined;
}) {
  const { spread, measured } = props;
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { palette } = useTheme();
  const { homes, mean, standardDeviation, range, jumps, jumpOdds, failed } = spread;
  const real = measured && measured.length > 1 ? scatterOf(measured) : undefined;
  const marks = real && measured ? measured.map((home) => home - real.mean) : [];
  const bars = histogramOf(homes, marks.length > 0 ? marks.map((mark) => mean + mark) : undefined);
  const [low, high] = [bars[0]?.from ?? 0, bars.at(-1)?.to ?? 1];
  const x = (place: number) => ((place - low) / (high - low)) * width;
  const most = Math.max(1, ...bars.map(({ count }) => count));
  const name = (value: number) => `${formatNumber(units.shown(value, '{u}'), 3)} ${units.unit}`;
  return (
    <Panel title="Repeatability, predicted">
      {bars.length > 0 ? (
        <svg
          viewBox={`0 0 ${width} ${height + 14}`}
          style={{ width: '100%', maxWidth: 400 }}
          role="img"
          aria-label={`Histogram of ${homes.length} predicted homings`}
          fontSize="11"
          fill={palette.text.secondary}
        >
          {bars.map(({ count }, k) => (
            <rect
              key={k}
              x={(k * width) / bars.length}
              y={height - (count / most) * height}
              width={width / bars.length - 1}
              height={(count / most) * height}
              fill={palette.primary.main}
            />
          ))}
          {marks.map((mark, k) => (
            <line
              key={k}
              x1={x(mean + mark)}
              x2={x(mean + mark)}
              y1={0}
              y2={height}
              stroke={palette.warning.main}
              strokeWidth={2}
            />
          ))}
          <text y={height + 12}>{name(low - mean)}</text>
          <text x={width} y={height + 12} textAnchor="end">
            {name(high - mean)}
          </text>
        </svg>
      ) : (
        <Typography variant="body2">Every run comes to the same place.</Typography>
      )}
      <Box sx={{ mt: 0.5 }}>
        <FactTable
          label="Repeatability, predicted"
          rows={[
            { what: 'Standard deviation', is: name(standardDeviation) },
            ...(real
              ? [
                  {
                    what: `Measured in ${marks.length} homings (lines)`,
                    is: name(real.standardDeviation),
                    strong: true,
                  },
                  { what: 'Measured over predicted', is: ratioWords(real.standardDeviation, standardDeviation) },
                ]
              : []),
            { what: `Range of ${homes.length} runs`, is: name(range) },
            ...(jumpOdds === undefined
              ? []
              : [
                  {
                    what: 'Jump by a whole motor turn',
                    is: jumpOdds > 0 ? oddsWords(jumpOdds) : 'none',
                    isWrong: jumps > 0 || jumpOdds > 1e-6,
                  },
                ]),
            ...(failed > 0 ? [{ what: 'Runs that failed', is: String(failed), isWrong: true }] : []),
          ]}
        />
      </Box>
    </Panel>
  );
}

/** Few homings say little: their deviation is itself uncertain by 1/√(2n − 2). */
const ratioWords = (measured: number, predicted: number): string =>
  predicted > 0 ? `${formatNumber(measured / predicted, 2)} times` : 'nothing is predicted to scatter';

const oddsWords = (odds: number): string =>
  odds > 0.01
    ? `${formatNumber(100 * odds, 2)} %`
    : odds < 1e-12
      ? 'below 1 in 10¹²'
      : `1 in ${formatNumber(1 / odds, 2)}`;
