import type { HeldSpeedResult } from '@kavrid/core/plant';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography, useTheme } from '@mui/material';
import { useMemo, type ReactNode } from 'react';
import { useJob } from '../jobs/useJob.ts';
import type { WaitAnswer, WaitWork } from '../jobs/waitJob.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { extentOf, type Curve } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh } from '../ui/chart/CurveChart.tsx';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

const startWorker = () => new Worker(new URL('../jobs/wait.worker.ts', import.meta.url), { type: 'module' });
const height = 130;

/** A speed whose set-point waits while something holds the shaft, beside one that does not wait. */
export function WaitTab({ buttons }: { readonly buttons: ReactNode }) {
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.75 }}>
        <NumberField label="Speed" path={['moves', 'response', 'speed']} rule="speed" />
        <NumberField label="Time held" path={['moves', 'response', 'seconds']} rule="dwell" />
        <NumberField label="Gap in speed" path={['moves', 'wait', 'speedGap']} rule="speed" />
        <NumberField label="Gap in position" path={['moves', 'wait', 'positionGap']} rule="distance" />
      </Box>
      <Compared />
      {buttons}
    </>
  );
}

function Compared() {
  const { document, computation, memberId } = useAxis();
  const units = useShownUnits(computation.input);
  const { palette } = useTheme();
  const { data: runs = [] } = useRunsQuery(memberId);
  const newest = runs.find(({ kind }) => kind === 'response' || kind === 'test move')?.id;
  const { data } = useRunQuery(newest ?? '', { skip: newest === undefined });
  const work = useMemo(
    (): WaitWork => ({ axis: document, run: data && { id: data.id, header: data.trace } }),
    [document, data],
  );
  const result = useJob<WaitWork, WaitAnswer>(startWorker, work)?.result;
  const [main, second] = [palette.primary.main, palette.warning.main];
  const curves = useMemo((): readonly Curve[] => {
    const line = (held: HeldSpeedResult | undefined, colour: string, isDashed: boolean): readonly Curve[] =>
      held ? [{ points: overTime(held.actualSpeed, held.period), colour, isDashed }] : [];
    return [...line(result?.without, second, true), ...line(result?.waiting, main, false)];
  }, [result, main, second]);
  if (!result) return <Typography color="text.secondary">Computing …</Typography>;
  const { because, waiting, without, held, seconds } = result;
  if (because !== undefined || !waiting || !without)
    return <Typography variant="body2">{`Nothing is predicted: ${because ?? 'there is no model'}.`}</Typography>;
  const [low, high] = extentOf(curves);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '300px minmax(0, 1fr)', gap: 1.5, mt: 0.75 }}>
      <MeasuredTable
        label="With and without waiting"
        heads={['Predicted', 'Waits', 'Does not']}
        rows={rowsOf(waiting, without, units)}
      />
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" sx={{ fontSize: 12 }}>
          {`Speed, ${units.name('{u}/s')}; held from ${formatNumber(held[0], 3)} to ${formatNumber(held[1], 3)} s; full line: waits, dashed: does not`}
        </Typography>
        <CurveChart
          label="Speed with and without waiting"
          curves={curves}
          height={height}
          xRange={[0, seconds]}
          yRange={rangeOnTicks(low, high, ticksHigh(height, false))}
          xUnit="s"
        />
      </Box>
      <Box sx={{ gridColumn: '1 / -1' }}>
        {notesOf(result, document.moves.wait, units).map((note) => (
          <Typography key={note} variant="body2" color="warning.main">
            {note}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}

const overTime = (values: Float64Array, period: number): Float64Array => {
  const points = new Float64Array(2 * values.length);
  values.forEach((value, k) => points.set([k * period, value], 2 * k));
  return points;
};

function rowsOf(waiting: HeldSpeedResult, without: HeldSpeedResult, units: ShownUnits) {
  const rounded = (value: number) => Number(value.toPrecision(3));
  const row = (label: string, of: (held: HeldSpeedResult) => string) => ({
    key: label,
    cells: [label, of(waiting), of(without)],
  });
  return [
    row('Highest speed after the release', ({ peakSpeed, trippedAt }) =>
      trippedAt === undefined ? units.quantity(rounded(peakSpeed), '{u}/s') : '—',
    ),
    row('Largest following error', ({ peakError }) => units.quantity(rounded(peakError), '{u}')),
    row('Back at speed after', ({ backAfter, trippedAt }) =>
      trippedAt !== undefined
        ? `alarm at ${formatNumber(trippedAt, 3)} s`
        : backAfter === undefined
          ? 'not reached'
          : `${formatNumber(backAfter, 3)} s`,
    ),
  ];
}

/** Gaps that an axis which nothing holds already needs. */
function notesOf(
  { freeSpeedGap = 0, freeLead = 0, noise }: WaitAnswer,
  { speedGap, positionGap }: { readonly speedGap: number | null; readonly positionGap: number | null },
  units: ShownUnits,
): readonly string[] {
  const speed = (value: number) => units.quantity(Number(value.toPrecision(3)), '{u}/s');
  return [
    ...(speedGap === null && positionGap === null ? ['Without a gap the set-point does not wait.'] : []),
    ...(speedGap !== null && speedGap < freeSpeedGap
      ? [
          `The axis alone stays ${speed(freeSpeedGap)} behind its set-point while it accelerates: with a gap of ${speed(speedGap)} it accelerates more slowly than planned.`,
        ]
      : []),
    ...(speedGap !== null && noise !== undefined && speedGap < noise
      ? [
          `The measured speed scatters by ${speed(noise)} (3 σ): a gap of ${speed(speedGap)} is within it, and the set-point would wait without a cause. Choose a gap of at least ${speed(2 * noise)}.`,
        ]
      : []),
    ...(positionGap !== null && positionGap < freeLead
      ? [
          `At this speed the axis alone lags by ${units.quantity(Number(freeLead.toPrecision(3)), '{u}')}: a gap in position below it would hold it back.`,
        ]
      : []),
  ];
}
