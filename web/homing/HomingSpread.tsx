import type { Repeatability } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography, useTheme } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { histogramOf } from './histogramOf.ts';

const [width, height] = [360, 56];

/** How well homing repeats, as predicted, and how likely it jumps by a whole turn. */
export function HomingSpread({ spread }: { readonly spread: Repeatability }) {
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { palette } = useTheme();
  const { homes, mean, standardDeviation, range, jumps, jumpOdds, failed } = spread;
  const bars = histogramOf(homes);
  const most = Math.max(1, ...bars.map(({ count }) => count));
  const name = (value: number) => `${formatNumber(units.shown(value, '{u}'), 3)} ${units.unit}`;
  return (
    <Panel title="Repeatability, predicted">
      {range > 0 ? (
        <svg
          viewBox={`0 0 ${width} ${height + 14}`}
          style={{ width: '100%' }}
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
          <text y={height + 12}>{name((bars[0]?.from ?? 0) - mean)}</text>
          <text x={width} y={height + 12} textAnchor="end">
            {name((bars.at(-1)?.to ?? 0) - mean)}
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

const oddsWords = (odds: number): string =>
  odds > 0.01
    ? `${formatNumber(100 * odds, 2)} %`
    : odds < 1e-12
      ? 'below 1 in 10¹²'
      : `1 in ${formatNumber(1 / odds, 2)}`;
