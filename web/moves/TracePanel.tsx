import { addressOf, isAxis } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import {
  Alert,
  Box,
  Button,
  Link,
  MenuItem,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
  useTheme,
} from '@mui/material';
import { memo, useMemo, useState } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { useAxis } from '../member/useAxis.ts';
import type { MoveJobResult, MoveRequest, ShownChannel } from '../jobs/moveJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

const charts: readonly { readonly channel: ShownChannel; readonly title: string; readonly unit: string }[] = [
  { channel: 'actualPosition', title: 'Position', unit: '{u}' },
  { channel: 'actualSpeed', title: 'Speed', unit: '{u}/s' },
  { channel: 'followingError', title: 'Following error', unit: '{u}' },
  { channel: 'torque', title: 'Torque', unit: '%' },
];
const noRun = 'prediction';
const startMoves = () => new Worker(new URL('../jobs/move.worker.ts', import.meta.url), { type: 'module' });
/** Counts the moves asked for, so that another view of the same is known as such. */
let keys = 0;

/** The trace of a run over its prediction; without a run, the prediction of the test move as it now stands. */
export function TracePanel() {
  const { axisId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const newest = useAppSelector((state) => state.live.newestRun);
  const { data: runs = [] } = useRunsQuery(axisId);
  const [picked, setPicked] = useState<string>();
  const [seen, setSeen] = useState(newest);
  if (seen !== newest) {
    setSeen(newest);
    setPicked(undefined);
  }
  const runId = picked ?? newest ?? runs[0]?.id ?? noRun;
  const { data: run, isFetching } = useRunQuery(runId, { skip: runId === noRun });
  const shownRun = runId === noRun || run?.id !== runId ? undefined : run;
  const [window, setWindow] = useState<readonly [number, number]>();
  const moves = useMemo(() => {
    if (runId !== noRun && !shownRun) return undefined;
    const axis = shownRun && isAxis(shownRun.axis) ? shownRun.axis : document;
    const run = shownRun && { id: shownRun.id, header: shownRun.trace };
    return { key: ++keys, axis, run, isWhole: shownRun ? shownRun.end === 'finished' : true };
  }, [document, runId, shownRun]);
  const request = useMemo(() => moves && { ...moves, view: { points: 280, window } }, [moves, window]);
  const answer = useJob<MoveRequest, MoveJobResult>(startMoves, request);
  const result = answer?.input.run?.id === shownRun?.id ? answer?.result : undefined;
  const homing = shownRun?.kind === 'homing';
  return (
    <Panel
      title={shownRun ? 'Measured over predicted' : 'Predicted test move'}
      aside={
        <TextField
          select
          value={runs.some((each) => each.id === runId) ? runId : noRun}
          onChange={(event) => {
            setPicked(event.target.value);
            setWindow(undefined);
          }}
          sx={{ width: 400 }}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Run shown' } as object } }}
        >
          <MenuItem value={noRun} dense>
            Prediction of the test move as typed
          </MenuItem>
          {runs.map((each) => (
            <MenuItem key={each.id} value={each.id} dense>
              {new Date(each.startedAt).toLocaleString()} · {each.kind} · {each.end} · v{each.axisVersion}
            </MenuItem>
          ))}
        </TextField>
      }
    >
      {shownRun && shownRun.end !== 'finished' && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          This run ended early: {shownRun.end}
          {shownRun.because && shownRun.because !== shownRun.end ? ` (${shownRun.because})` : ''}. What was recorded
          until then is kept.
        </Alert>
      )}
      {result?.because && !homing && (
        <Alert severity="info" sx={{ py: 0, mb: 0.5 }}>
          No prediction, because {result.because}.
        </Alert>
      )}
      {result?.tripped && (
        <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
          The prediction trips on following error: these settings cannot follow this move.
        </Alert>
      )}
      {result ? (
        <>
          <Windows
            result={result}
            window={window}
            choose={setWindow}
            csv={shownRun && `/api${addressOf('readTraceCsv', { id: shownRun.id })}`}
          />
          <Charts result={result} homing={homing} units={units} window={window} />
          {!homing && <Figures result={result} units={units} />}
        </>
      ) : (
        <Typography color="text.secondary">{isFetching ? 'Reading the run …' : 'Working out …'}</Typography>
      )}
    </Panel>
  );
}

function Windows({
  result,
  window,
  choose,
  csv,
}: {
  /** Where the trace is to be had as a table. */
  readonly csv: string | undefined;
  readonly result: MoveJobResult;
  readonly window: readonly [number, number] | undefined;
  readonly choose: (window: readonly [number, number] | undefined) => void;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
      <Legend isMeasured={result.measured !== undefined} />
      {csv && (
        <Link href={csv} download sx={{ fontSize: 12.5, ml: 2 }}>
          trace as CSV
        </Link>
      )}
      <Box sx={{ flex: 1 }} />
      <Button variant={window ? 'text' : 'outlined'} onClick={() => choose(undefined)} sx={{ py: 0 }}>
        whole
      </Button>
      {result.moves.slice(0, 6).map(([start, end], index) => {
        const wide = [Math.max(0, start - 0.05), end + 0.2] as const;
        const isNow = window?.[0] === wide[0];
        return (
          <Button key={index} variant={isNow ? 'outlined' : 'text'} onClick={() => choose(wide)} sx={{ py: 0 }}>
            move {index + 1}
          </Button>
        );
      })}
    </Box>
  );
}

function Legend({ isMeasured }: { readonly isMeasured: boolean }) {
  const theme = useTheme();
  const entry = (colour: string, dash: string | undefined, words: string) => (
    <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center', fontSize: 12.5 }}>
      <svg width="28" height="6" aria-hidden>
        <path d="M0 3h28" stroke={colour} strokeWidth="2" strokeDasharray={dash} />
      </svg>
      {words}
    </Box>
  );
  return (
    <Box sx={{ display: 'flex', gap: 2 }}>
      {isMeasured && entry(theme.palette.primary.main, undefined, 'measured')}
      {entry(theme.palette.warning.main, isMeasured ? '5 3' : undefined, 'predicted')}
    </Box>
  );
}

const Charts = memo(function Charts(props: {
  readonly result: MoveJobResult;
  readonly homing: boolean;
  readonly units: ShownUnits;
  readonly window: readonly [number, number] | undefined;
}) {
  const { result, homing, units, window } = props;
  const theme = useTheme();
  const domain: [number, number] = window ? [window[0], window[1]] : [0, Math.max(0.001, result.duration)];
  const tick = { fontSize: 11, fontFamily: numberFace, fill: theme.palette.text.secondary };
  const isPrediction = !result.measured;
  return (
    <>
      {charts.map(({ channel, title, unit }, index) => {
        const last = index === charts.length - 1;
        const scaled = (points: readonly { readonly t: number; readonly v: number }[] | undefined) =>
          points?.map(({ t, v }) => ({ t, v: units.shown(v, unit) })) ?? [];
        return (
          <Box
            key={channel}
            role="img"
            aria-label={`${title} over time`}
            sx={{ display: 'grid', gridTemplateColumns: '18px 1fr' }}
          >
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
            <ResponsiveContainer width="100%" height={last ? 112 : 96}>
              <LineChart syncId="trace" margin={{ top: 6, right: 8, bottom: 0, left: 0 }}>
                <CartesianGrid stroke={theme.palette.divider} />
                <XAxis
                  type="number"
                  dataKey="t"
                  domain={domain}
                  allowDataOverflow
                  allowDuplicatedCategory={false}
                  hide={!last}
                  tick={tick}
                  unit=" s"
                  tickFormatter={(t: number) => formatNumber(t, 4)}
                />
                <YAxis
                  tick={tick}
                  width={58}
                  tickFormatter={(v: number) => formatNumber(v, 4)}
                  domain={['auto', 'auto']}
                />
                <ReferenceLine y={0} stroke={theme.palette.text.secondary} strokeWidth={0.5} />
                {result.predicted && !homing && (
                  <Line
                    data={scaled(result.predicted[channel])}
                    dataKey="v"
                    type="linear"
                    dot={false}
                    isAnimationActive={false}
                    stroke={theme.palette.warning.main}
                    strokeDasharray={isPrediction ? '' : '5 3'}
                    strokeWidth={1.6}
                  />
                )}
                {result.measured && (
                  <Line
                    data={scaled(result.measured[channel])}
                    dataKey="v"
                    type="linear"
                    dot={false}
                    isAnimationActive={false}
                    stroke={theme.palette.primary.main}
                    strokeWidth={1.4}
                  />
                )}
              </LineChart>
            </ResponsiveContainer>
          </Box>
        );
      })}
    </>
  );
});

function Figures({ result, units }: { readonly result: MoveJobResult; readonly units: ShownUnits }) {
  const { predictedFigures: predicted, measuredFigures: measured } = result;
  const rows = [
    ['Peak speed', 'peakSpeed', '{u}/s'],
    ['Peak following error', 'peakFollowingError', '{u}'],
    ['Settling after the last move', 'settlingTime', 's'],
    ['Peak torque', 'peakTorque', '%'],
    ['RMS torque', 'rmsTorque', '%'],
  ] as const;
  return (
    <Table size="small" aria-label="Predicted and measured" sx={{ '& td': { fontSize: 12.5 } }}>
      <TableHead>
        <TableRow>
          <TableCell />
          {rows.map(([label, , unit]) => (
            <TableCell key={label} align="right">
              {label}, {units.name(unit)}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {(
          [
            ['Predicted', predicted],
            ['Measured', measured],
          ] as const
        ).map(
          ([name, figures]) =>
            figures && (
              <TableRow key={name}>
                <TableCell>{name}</TableCell>
                {rows.map(([label, key, unit]) => (
                  <TableCell key={label} align="right" sx={{ fontFamily: numberFace }}>
                    {figures[key] === undefined ? '—' : formatNumber(units.shown(figures[key], unit), 4)}
                  </TableCell>
                ))}
              </TableRow>
            ),
        )}
      </TableBody>
    </Table>
  );
}
