import { isAxis } from '@kavrid/contract';
import { Alert, MenuItem, TextField, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import type { MoveJobResult, MoveRequest } from '../jobs/moveJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { unpredictedKinds } from '../trace/unpredictedKinds.ts';
import { useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { MoveCharts } from './MoveCharts.tsx';
import { MoveFigures } from './MoveFigures.tsx';
import { TraceWindows } from './TraceWindows.tsx';

const noRun = 'prediction';
const startMoves = () => new Worker(new URL('../jobs/move.worker.ts', import.meta.url), { type: 'module' });
/** Counts the moves asked for, so that another view of the same is known as such. */
let keys = 0;

/** The trace of a run over its prediction; without a run, the prediction of the test move as it now stands. */
export function TracePanel() {
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const newest = useAppSelector((state) => state.live.newestRun);
  const { data: runs = [] } = useRunsQuery(memberId);
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
    return {
      key: ++keys,
      axis,
      run,
      isWhole: shownRun ? shownRun.end === 'finished' : true,
      isTestMove: shownRun ? shownRun.kind === 'test move' : true,
    };
  }, [document, runId, shownRun]);
  const request = useMemo(() => moves && { ...moves, view: { points: 1400, window } }, [moves, window]);
  const answer = useJob<MoveRequest, MoveJobResult>(startMoves, request);
  const result = answer?.input.run?.id === shownRun?.id ? answer?.result : undefined;
  const homing = shownRun !== undefined && unpredictedKinds.includes(shownRun.kind);
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
      {shownRun?.end === 'finished' && shownRun.because && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          This run has a gap: {shownRun.because}.
        </Alert>
      )}
      {result?.because && !homing && (
        <Alert severity="info" sx={{ py: 0, mb: 0.5 }}>
          No prediction: {result.because}.
        </Alert>
      )}
      {result?.tripped && (
        <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
          The prediction trips on following error: these settings cannot follow this move.
        </Alert>
      )}
      {result ? (
        <>
          <TraceWindows result={result} window={window} choose={setWindow} runId={shownRun?.id} />
          <MoveCharts result={result} homing={homing} units={units} window={answer?.input.view.window} />
          {!homing && <MoveFigures result={result} units={units} />}
        </>
      ) : (
        <Typography color="text.secondary">{isFetching ? 'Reading the run …' : 'Computing …'}</Typography>
      )}
    </Panel>
  );
}
