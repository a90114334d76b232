import { formatNumber } from '@kavrid/core/quantity';
import { Alert, Box, Typography } from '@mui/material';
import { lazy, Suspense, useMemo } from 'react';
import { Hint } from '../chain/fields/parts.tsx';
import type { SpindleRunResult } from '../jobs/spindleRunJob.ts';
import { useSpindleRun } from '../jobs/useSpindleRun.ts';
import { FactTable } from '../signals/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useSpindle } from './spindleContext.ts';
import { tripWords } from './tripWords.ts';

const XyChart = lazy(() => import('../ui/XyChart.tsx').then((module) => ({ default: module.XyChart })));

/** The run test as the model of motor and drive says it would go. */
export function RunTestCharts() {
  const { document } = useSpindle();
  const result = useSpindleRun(document);
  if (!result)
    return (
      <Panel title="Predicted run">
        <Hint>Working it out …</Hint>
      </Panel>
    );
  if (result.kind === 'unknown')
    return (
      <Panel title="Predicted run">
        <Hint>It cannot be predicted yet, because {result.because}.</Hint>
      </Panel>
    );
  return <Run result={result} />;
}

type Run = Extract<SpindleRunResult, { readonly kind: 'run' }>;
/** Points drawn of a channel; each keeps the highest and the lowest of its stretch. */
const drawn = 300;

function Run({ result }: { readonly result: Run }) {
  const { recording, trip, ratio, speedPerHertz } = result;
  const { period } = recording;
  const duration = period * (recording.hertz.length - 1);
  const charts = useMemo(() => {
    const points = (values: Float64Array, factor = 1) => thinned(values, period, factor);
    return {
      speed: points(recording.speed, 1 / ratio),
      field: points(recording.hertz, speedPerHertz / ratio),
      current: points(recording.current),
      torque: points(recording.torque, ratio),
      volts: points(recording.busVolts),
    };
  }, [recording, period, ratio, speedPerHertz]);
  const marks = trip ? [{ x: trip.at, label: tripWords[trip.kind].title, isWrong: true }] : [];
  const shared = { xUnit: 's', xDomain: [0, duration] as const, marks };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel title="Predicted run">
        {trip ? (
          <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
            The drive trips on {tripWords[trip.kind].title} at {formatNumber(trip.at, 3)} s, and the tool coasts.{' '}
            {tripWords[trip.kind].cause}
          </Alert>
        ) : (
          <Alert severity="success" sx={{ py: 0, mb: 0.5 }}>
            It goes through without a trip.
          </Alert>
        )}
        <Suspense fallback={<div style={{ height: 480 }} />}>
          <XyChart
            {...shared}
            label="Speed of the tool"
            yUnit="rpm of the tool"
            height={125}
            hideX
            series={[
              { name: 'commanded, ramped', look: 'second', isDashed: true, points: charts.field },
              { name: 'tool', look: 'main', points: charts.speed },
            ]}
          />
          <XyChart
            {...shared}
            label="Current of the motor"
            yUnit="A"
            height={95}
            hideX
            series={[{ name: 'motor current', look: 'main', points: charts.current }]}
            levels={levelIfNear(charts.current, result.holdCurrent, `held at ${formatNumber(result.holdCurrent, 3)} A`)}
          />
          <XyChart
            {...shared}
            label="Torque at the tool"
            yUnit="N·m at the tool"
            height={95}
            hideX
            series={[{ name: 'torque', look: 'main', points: charts.torque }]}
          />
          <XyChart
            {...shared}
            label="Volts of the DC bus"
            yUnit="V"
            height={125}
            series={[{ name: 'DC bus', look: 'main', points: charts.volts }]}
            levels={levelIfNear(charts.volts, result.tripVolts, `trips at ${formatNumber(result.tripVolts, 4)} V`)}
          />
        </Suspense>
      </Panel>
      <Ledger result={result} duration={duration} />
    </Box>
  );
}

function Ledger({ result, duration }: { readonly result: Run; readonly duration: number }) {
  const { ledger, recording } = result;
  const kilo = (joules: number) => `${formatNumber(joules / 1000, 4)} kJ`;
  const spent =
    ledger.kinetic +
    ledger.capacitors +
    ledger.loadWork +
    ledger.rotorHeat +
    ledger.statorHeat +
    ledger.idle +
    ledger.resistor;
  const highest = (values: Float64Array) => values.reduce((a, b) => Math.max(a, b), 0);
  return (
    <Panel title="Energy and extremes">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3 }}>
        <FactTable
          label="Energy"
          rows={[
            { what: 'From the supply', is: kilo(ledger.fromSupply), strong: true },
            { what: 'Work at tool and bearings', is: kilo(ledger.loadWork) },
            { what: 'Heat of the motor', is: kilo(ledger.rotorHeat + ledger.statorHeat) },
            { what: 'Heat of the resistor', is: kilo(ledger.resistor) },
            { what: 'The drive itself', is: kilo(ledger.idle) },
            { what: 'Still turning, and in the DC bus', is: kilo(ledger.kinetic + ledger.capacitors) },
          ]}
        />
        <FactTable
          label="Extremes"
          rows={[
            { what: 'Highest current', is: `${formatNumber(highest(recording.current), 3)} A` },
            { what: 'Highest DC bus', is: `${formatNumber(highest(recording.busVolts), 4)} V` },
            {
              what: 'Mean heat of the motor',
              is: `${formatNumber((ledger.rotorHeat + ledger.statorHeat) / duration, 3)} W`,
            },
            { what: 'Mean power of the resistor', is: `${formatNumber(ledger.resistor / duration, 3)} W` },
          ]}
        />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        In and out agree within{' '}
        {formatNumber((100 * Math.abs(ledger.fromSupply - spent)) / Math.max(1, ledger.fromSupply), 2)} %. The model is
        quasi-static: what the motor’s own fields do within milliseconds is left out.
      </Typography>
    </Panel>
  );
}

/** A level is drawn where the values come near it. */
const levelIfNear = (points: readonly { readonly y: number }[], y: number, label: string) =>
  points.some((point) => point.y > 0.8 * y) ? [{ y, label }] : [];

function thinned(values: Float64Array, period: number, factor: number): readonly { x: number; y: number }[] {
  const stride = Math.max(1, Math.ceil(values.length / drawn));
  const points: { x: number; y: number }[] = [];
  for (let start = 0; start < values.length; start += stride) {
    let [low, high] = [start, start];
    for (let k = start; k < Math.min(values.length, start + stride); k++) {
      if ((values[k] ?? 0) < (values[low] ?? 0)) low = k;
      if ((values[k] ?? 0) > (values[high] ?? 0)) high = k;
    }
    for (const k of low < high ? [low, high] : high < low ? [high, low] : [low])
      points.push({ x: k * period, y: (values[k] ?? 0) * factor });
  }
  return points;
}
