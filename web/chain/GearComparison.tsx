import type { GearChoice } from '@kavrid/core/chain';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Dialog, DialogContent, DialogTitle, IconButton, Typography, useTheme } from '@mui/material';
import { mdiClose } from '@mdi/js';
import {
  CartesianGrid,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { useAxis } from '../member/useAxis.ts';
import { ticksOfDecades } from '../ui/chart/ticks.ts';
import { numberFace } from '../ui/theme.ts';
import { Icon } from '../ui/Icon.tsx';
import { useAllChoices, useGearUnits, useWantedSpeed } from './gearChoicesOnScreen.ts';
import { GearTable, useKeyedText } from './GearTable.tsx';

/** Every ratio worth choosing between, as a chart of speed against resolution and as a table to sort. */
export function GearComparison({ close }: { readonly close: () => void }) {
  const choices = useAllChoices();
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth aria-labelledby="compare-ratios">
      <DialogTitle id="compare-ratios" sx={{ display: 'flex', justifyContent: 'space-between', py: 1 }}>
        Compare gear ratios
        <IconButton onClick={close} aria-label="Close" size="small">
          <Icon path={mdiClose} />
        </IconButton>
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1 }}>
        {choices.length === 0 ? (
          <Typography color="text.secondary">
            Not known until encoder, mechanics, both pulse rates and the motor’s highest speed have been entered.
          </Typography>
        ) : (
          <>
            <TradeChart choices={choices} />
            <GearTable
              label="All ratios"
              choices={choices}
              columns={['resolution', 'steps', 'ratio', 'error', 'drift', 'speed', 'limit']}
              takesResolution
            />
          </>
        )}
      </DialogContent>
    </Dialog>
  );
}

/** Top speed over resolution, both by decades; what is wanted stands as a cross of lines. */
function TradeChart({ choices }: { readonly choices: readonly GearChoice[] }) {
  const { document, computation } = useAxis();
  const units = useGearUnits();
  const keyed = useKeyedText();
  const theme = useTheme();
  const wantedSpeed = useWantedSpeed();
  const wantedResolution = valueOf(computation.results.wantedResolution);
  const points = choices.map((choice) => ({
    resolution: units.shown(1 / choice.stepsPerUnit, '{u}'),
    speed: units.shown(choice.highestSpeed, '{u}/s'),
    name: keyed(choice),
    limit: choice.binding.join(', '),
    isNow:
      document.gear.numerator === String(choice.fraction.numerator) &&
      document.gear.denominator === String(choice.fraction.denominator),
  }));
  const across = decades([
    ...points.map(({ resolution }) => resolution),
    ...(wantedResolution ? [units.shown(toNumber(wantedResolution), '{u}')] : []),
  ]);
  const up = decades([
    ...points.map(({ speed }) => speed),
    ...(wantedSpeed === undefined ? [] : [units.shown(wantedSpeed, '{u}/s')]),
  ]);
  const tick = { fontSize: 11, fontFamily: numberFace, fill: theme.palette.text.secondary };
  const short = (value: number) => formatNumber(value, 3);
  const label = { fontSize: 12, fill: theme.palette.text.secondary };
  return (
    <Box role="img" aria-label="Top speed over resolution" sx={{ height: 250 }}>
      <ResponsiveContainer>
        <ScatterChart margin={{ top: 18, right: 24, bottom: 18, left: 18 }}>
          <CartesianGrid stroke={theme.palette.divider} />
          <XAxis
            type="number"
            dataKey="resolution"
            scale="log"
            domain={[...across]}
            ticks={[...ticksOfDecades(...across)]}
            interval={0}
            tick={tick}
            tickFormatter={short}
            label={{ value: `${units.unit} a pulse`, position: 'bottom', offset: 2, ...label }}
          />
          <YAxis
            type="number"
            dataKey="speed"
            scale="log"
            domain={[...up]}
            ticks={[...ticksOfDecades(...up)]}
            interval={0}
            tick={tick}
            tickFormatter={short}
            label={{ value: `top ${units.unit}/s`, angle: -90, position: 'insideLeft', ...label }}
          />
          <Tooltip
            content={({ active, payload }) => {
              const point = active ? (payload?.[0]?.payload as (typeof points)[number] | undefined) : undefined;
              return point ? (
                <Box sx={{ bgcolor: 'background.paper', border: 1, borderColor: 'divider', p: 0.75, fontSize: 12.5 }}>
                  {point.name}: {short(point.resolution)} {units.unit} a pulse, {short(point.speed)} {units.unit}/s,
                  limited by {point.limit}
                </Box>
              ) : null;
            }}
          />
          {wantedSpeed !== undefined && (
            <ReferenceLine
              y={units.shown(wantedSpeed, '{u}/s')}
              stroke={theme.palette.warning.main}
              strokeDasharray="5 3"
              label={{ value: 'wanted speed', position: 'insideTopRight', ...label }}
            />
          )}
          {wantedResolution && (
            <ReferenceLine
              x={units.shown(toNumber(wantedResolution), '{u}')}
              stroke={theme.palette.warning.main}
              strokeDasharray="5 3"
              label={{ value: 'wanted resolution', position: 'top', ...label }}
            />
          )}
          <Scatter
            data={points.filter(({ isNow }) => !isNow)}
            fill={theme.palette.primary.main}
            isAnimationActive={false}
          />
          <Scatter
            data={points.filter(({ isNow }) => isNow)}
            fill={theme.palette.error.main}
            shape="diamond"
            isAnimationActive={false}
          />
        </ScatterChart>
      </ResponsiveContainer>
    </Box>
  );
}

/** A range of a logarithmic axis that holds some values, from a tick to a tick. */
function decades(values: readonly number[]): readonly [number, number] {
  const positive = values.filter((value) => value > 0 && Number.isFinite(value));
  if (positive.length === 0) return [1, 10];
  const [low, high] = [Math.min(...positive), Math.max(...positive)];
  const ticks = ticksOfDecades(low / 10, high * 10);
  return [ticks.findLast((tick) => tick < low) ?? low, ticks.find((tick) => tick > high) ?? high * 2];
}
