import { formatNumber } from '@kavrid/core/quantity';
import type { RunEnd } from '@kavrid/contract';
import { Alert, Box, Link, MenuItem, TextField, Typography } from '@mui/material';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { Hint } from '../ui/fieldParts.tsx';
import {
  drawnPoints,
  type MeasuredChannel,
  type MeasuredRun,
  type SpindleRunRequest,
  type SpindleRunResult,
} from '../jobs/spindleRunJob.ts';
import { thinTrace } from '../jobs/thinTrace.ts';
import { useJob } from '../jobs/useJob.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import type { XySeries } from '../ui/chart/XyChart.tsx';
import { SteadySpeedsTable } from '../trace/SteadySpeedsTable.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { runVerdict, type RunVerdict } from './runVerdict.ts';
import { tripWords } from './tripWords.ts';

const XyChart = lazy(() => import('../ui/chart/XyChart.tsx').then((module) => ({ default: module.XyChart })));

const predictionOnly = 'none';
const startSpindleRun = () => new Worker(new URL('../jobs/spindleRun.worker.ts', import.meta.url), { type: 'module' });

/** The run test as the model of motor and drive says it would go, and as it went. */
export function RunTestCharts() {
  const { memberId, document } = useSpindle();
  const newest = useAppSelector((state) => state.live.newestRun);
  const { data: all = [] } = useRunsQuery(memberId);
  const runs = all.filter(({ kind }) => kind === 'run test');
  const [picked, setPicked] = useState<string>();
  const [seen, setSeen] = useState(newest);
  if (seen !== newest) {
    setSeen(newest);
    setPicked(undefined);
  }
  const runId = picked ?? newest ?? predictionOnly;
  const { currentData: run } = useRunQuery(runId, { skip: runId === predictionOnly });
  // A run is compared with what was planned when it was made.
  const spindle = run?.axis.kind === 'spindle' ? run.axis : document;
  const request = useMemo<SpindleRunRequest>(
    () => ({ spindle, run: run && { id: run.id, header: run.trace } }),
    [spindle, run],
  );
  const answer = useJob<SpindleRunRequest, SpindleRunResult>(startSpindleRun, request);
  const result = answer?.result;
  const isOfRun = run !== undefined && answer?.input.run?.id === run.id;
  const measured = isOfRun && result?.kind === 'run' ? result.measured : undefined;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel
        title={measured ? 'Measured over predicted' : 'Predicted run'}
        aside={
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            {run && (
              <Link component={RouterLink} to={`../traces?run=${run.id}`} sx={{ fontSize: 13 }}>
                Open in Traces
              </Link>
            )}
            <TextField
              select
              value={runs.some(({ id }) => id === runId) ? runId : predictionOnly}
              onChange={(event) => setPicked(event.target.value)}
              slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Run shown' } as object } }}
              sx={{ width: 300, '& .MuiSelect-select': { py: 0.5, fontSize: 13 } }}
            >
              <MenuItem value={predictionOnly} dense>
                prediction only
              </MenuItem>
              {runs.map(({ id, startedAt, end }) => (
                <MenuItem key={id} value={id} dense>
                  run test · {end} · {new Date(startedAt).toLocaleString()}
                </MenuItem>
              ))}
            </TextField>
          </Box>
        }
      >
        {!result && <Hint>Computing …</Hint>}
        {result?.kind === 'unknown' && <Hint>No prediction yet: {result.because}.</Hint>}
        {run?.because && (
          <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
            The run ended: {run.because}
          </Alert>
        )}
        {result?.kind === 'run' && <Charts result={result} measured={measured} end={run?.end} />}
      </Panel>
      {measured && result?.kind === 'run' && result.steady.length > 0 && (
        <Panel title="Steady speeds of the tool">
          <SteadySpeedsTable traces={[{ name: 'measured', steady: result.steady }]} />
        </Panel>
      )}
      {result?.kind === 'run' && <Ledger result={result} measured={measured} />}
    </Box>
  );
}

type Run = Extract<SpindleRunResult, { readonly kind: 'run' }>;
function Verdict({ verdict }: { readonly verdict: RunVerdict }) {
  switch (verdict) {
    case 'only predicted':
    case 'not finished':
      return null;
    case 'never turned':
      return (
        <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
          The spindle did not turn in this run: look at the motor leads, the mechanical lock and the current.
        </Alert>
      );
    case 'too slow':
      return (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          The run finished without a trip, but the spindle did not reach its speeds.
        </Alert>
      );
    case 'went through':
      return (
        <Alert severity="success" sx={{ py: 0, mb: 0.5 }}>
          The run finished without a trip, and the spindle followed its speeds.
        </Alert>
      );
  }
}

function Charts(props: {
  readonly result: Run;
  readonly measured: MeasuredRun | undefined;
  readonly end: RunEnd | undefined;
}) {
  const { result, measured, end } = props;
  const { recording, trip, held, ratio } = result;
  const predicted = useMemo(() => predictedPoints(result), [result]);
  const actual = useMemo(() => measured && measuredPoints(measured, ratio), [measured, ratio]);
  const verdict = runVerdict(
    highest(recording.speed),
    measured && end ? { end, speed: measured.speed.highest } : undefined,
  );
  const duration = recording.period * (recording.hertz.length - 1);
  const marks = trip ? [{ at: trip.at, label: tripWords[trip.kind].title, isWrong: true }] : [];
  const shared = { xUnit: 's', xDomain: [0, duration] as const, marks };
  const both = (channel: 'speed' | 'current' | 'torque' | 'volts', name: string): readonly XySeries[] =>
    actual
      ? [
          { name: 'predicted', look: 'second', isDashed: true, ...predicted[channel] },
          { name: 'measured', look: 'main', ...actual[channel] },
        ]
      : [{ name, look: 'main', ...predicted[channel] }];
  return (
    <>
      {held > 0.1 && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          For {formatNumber(held, 3)} s the drive holds its ramp because the current is at its limit: it cannot follow
          the speeds above as set.
        </Alert>
      )}
      {trip ? (
        <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
          Predicted: the drive trips on {tripWords[trip.kind].title} at {formatNumber(trip.at, 3)} s, and the tool
          coasts. {tripWords[trip.kind].cause}
        </Alert>
      ) : (
        !measured && <Hint>Predicted: the drive completes it without a trip.</Hint>
      )}
      {measured && <Verdict verdict={verdict} />}
      <Suspense fallback={<div style={{ height: 480 }} />}>
        <XyChart
          {...shared}
          label="Tool speed"
          yUnit="rpm of the tool"
          height={125}
          hideX
          series={[
            ...(actual
              ? []
              : [{ name: 'commanded, ramped', look: 'second' as const, isDashed: true, ...predicted.field }]),
            ...both('speed', 'tool'),
          ]}
        />
        <XyChart
          {...shared}
          label="Motor current"
          yUnit="A"
          height={95}
          hideX
          series={both('current', 'motor current')}
          levels={levelIfNear(
            highest(recording.current),
            result.holdCurrent,
            `held at ${formatNumber(result.holdCurrent, 3)} A`,
          )}
        />
        <XyChart
          {...shared}
          label="Torque at the tool"
          yUnit="N·m at the tool"
          height={95}
          hideX
          series={both('torque', 'torque')}
        />
        <XyChart
          {...shared}
          label="DC bus voltage"
          yUnit="V"
          height={125}
          series={both('volts', 'DC bus')}
          levels={levelIfNear(
            highest(recording.busVolts),
            result.tripVolts,
            `trips at ${formatNumber(result.tripVolts, 4)} V`,
          )}
        />
      </Suspense>
    </>
  );
}

function predictedPoints({ recording, ratio, speedPerHertz }: Run) {
  const points = (values: Float64Array, scale = 1) => ({
    points: thinTrace(values, recording.period, drawnPoints),
    scale,
  });
  return {
    field: points(recording.hertz, speedPerHertz / ratio),
    speed: points(recording.speed, 1 / ratio),
    current: points(recording.current),
    torque: points(recording.torque, ratio),
    volts: points(recording.busVolts),
  };
}

function measuredPoints({ speed, current, torque, busVolts }: MeasuredRun, ratio: number) {
  return {
    speed: { points: speed.curve, scale: 1 / ratio },
    current: { points: current.curve },
    torque: { points: torque.curve, scale: ratio },
    volts: { points: busVolts.curve },
  };
}

function Ledger({ result, measured }: { readonly result: Run; readonly measured: MeasuredRun | undefined }) {
  const { ledger, recording } = result;
  const duration = recording.period * (recording.hertz.length - 1);
  const kilo = (joules: number) => `${formatNumber(joules / 1000, 4)} kJ`;
  const spent =
    ledger.kinetic +
    ledger.capacitors +
    ledger.loadWork +
    ledger.rotorHeat +
    ledger.statorHeat +
    ledger.idle +
    ledger.resistor;
  const against = (predicted: number, channel: MeasuredChannel | undefined, unit: string) =>
    `${formatNumber(predicted, 4)} ${unit}${channel ? `, measured ${formatNumber(channel.highest, 4)} ${unit}` : ''}`;
  return (
    <Panel title="Energy and extremes, predicted">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3 }}>
        <FactTable
          label="Energy"
          rows={[
            { what: 'From the supply', is: kilo(ledger.fromSupply), strong: true },
            { what: 'Work at tool and bearings', is: kilo(ledger.loadWork) },
            { what: 'Motor heat', is: kilo(ledger.rotorHeat + ledger.statorHeat) },
            { what: 'Resistor heat', is: kilo(ledger.resistor) },
            { what: 'Drive’s own consumption', is: kilo(ledger.idle) },
            { what: 'Remaining in rotation and DC bus', is: kilo(ledger.kinetic + ledger.capacitors) },
          ]}
        />
        <FactTable
          label="Extremes"
          rows={[
            { what: 'Highest current', is: against(highest(recording.current), measured?.current, 'A') },
            { what: 'Highest DC bus', is: against(highest(recording.busVolts), measured?.busVolts, 'V') },
            {
              what: 'Mean motor heat',
              is: `${formatNumber((ledger.rotorHeat + ledger.statorHeat) / duration, 3)} W`,
            },
            { what: 'Mean resistor power', is: `${formatNumber(ledger.resistor / duration, 3)} W` },
          ]}
        />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        In and out agree within{' '}
        {formatNumber((100 * Math.abs(ledger.fromSupply - spent)) / Math.max(1, ledger.fromSupply), 2)} %. The model is
        quasi-static: electrical transients of a few milliseconds are not included.
      </Typography>
    </Panel>
  );
}

/** A level is drawn where the values come near it. */
const levelIfNear = (most: number, at: number, label: string) => (most > 0.8 * at ? [{ at, label }] : []);

function highest(values: ArrayLike<number>): number {
  let most = 0;
  for (let k = 0; k < values.length; k++) most = Math.max(most, values[k] ?? 0);
  return most;
}
