import { isAxis, triedRoles } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Checkbox, FormControlLabel, Typography, useTheme } from '@mui/material';
import { useMemo, useState } from 'react';
import type { TrialAnswer, TrialHalf, TrialWork } from '../jobs/trialJob.ts';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { isReady } from '../member/isReady.ts';
import { useEdit } from '../member/memberContext.ts';
import { useAxis } from '../member/useAxis.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { runName } from '../trace/runName.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { extentOf, type Curve } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh } from '../ui/chart/CurveChart.tsx';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { gainRows } from './gainRows.ts';

const startWorker = () => new Worker(new URL('../jobs/trial.worker.ts', import.meta.url), { type: 'module' });

/** The test move with the planned gains and with those of the trial, before and after beside each other. */
export function TrialPanel({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { memberId, document } = useAxis();
  const { data: runs = [] } = useRunsQuery(memberId);
  const [chosen, setChosen] = useState<string>();
  const trials = runs.filter(({ kind }) => kind === 'gain trial');
  const shown = (trials.find(({ id }) => id === chosen) ?? trials[0])?.id;
  return (
    <Panel
      title="Trial on the drive"
      aside={
        shown !== undefined && (
          <Box sx={{ '& .MuiTextField-root': { width: 330 } }}>
            <ChoiceField
              label="Trial shown"
              value={shown}
              choices={trials.map((each) => ({ value: each.id, label: runName(each) }))}
              onChange={setChosen}
            />
          </Box>
        )
      }
    >
      {/* Different trial gains need a new confirmation. */}
      <TrialOrder key={JSON.stringify(document.tuning.trial)} plan={plan} />
      {shown !== undefined && <Comparison runId={shown} />}
    </Panel>
  );
}

function TrialOrder({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { memberId, document } = useAxis();
  const edit = useEdit();
  const dispatch = useAppDispatch();
  const [isMeant, setMeant] = useState(false);
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const isHomed = useAppSelector(({ live: { live } }) => live?.homed === true);
  const progress = useAppSelector(({ live: { live } }) => (live?.activity === 'gain trial' ? live.progress : ''));
  const held = useAppSelector(
    ({ live: { live, driveData } }) =>
      live?.temporary.some(
        ({ key, isHere }) =>
          isHere &&
          gainRows.some(
            ({ role }) =>
              driveData?.comparisons.find(({ parameter }) => parameter.key === key)?.parameter.role === role,
          ),
      ) ?? false,
  );
  const tried = triedRoles(document);
  const verdict =
    tried.length === 0
      ? undefined
      : plan?.trial
        ? plan.trial.speed.isStable && plan.trial.position.isStable
          ? 'stable'
          : 'unstable'
        : 'unknown';
  const isDoubtful = verdict === 'unstable' || verdict === 'unknown';
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Button
          variant="contained"
          disabled={!ready || !isHomed || tried.length === 0 || (isDoubtful && !isMeant)}
          onClick={() =>
            void dispatch(
              act(memberId, (version) => ({
                type: 'makeMove',
                version,
                order: { kind: 'trial', isMeant: isDoubtful && isMeant },
              })),
            )
          }
        >
          Try the gains
        </Button>
        <Button
          variant="outlined"
          disabled={tried.length === 0}
          onClick={() =>
            edit(['settings'], {
              ...document.settings,
              ...Object.fromEntries(tried.map((role) => [role, document.tuning.trial[role]])),
            })
          }
        >
          Keep: plan the trial gains
        </Button>
        <Button
          variant="outlined"
          disabled={!ready || !held}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'putBackGains', version })))}
        >
          Put back
        </Button>
        <Typography role="status" variant="body2" color="primary">
          {progress}
        </Typography>
      </Box>
      {isDoubtful && (
        <>
          <Typography variant="body2" color="error">
            {verdict === 'unstable'
              ? 'By the model the trial gains are unstable: the axis may vibrate hard, and nothing in the drive is sure to stop it.'
              : `Whether the trial gains are stable is not known${plan?.because === undefined ? '' : `: ${plan.because}`}.`}
          </Typography>
          <FormControlLabel
            control={<Checkbox size="small" checked={isMeant} onChange={(_, checked) => setMeant(checked)} />}
            label="Try them all the same, with a hand on the hardware stop"
          />
        </>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {held
          ? 'The drive holds the trial gains in its running copy. They are put back when the motor goes off, unless they are planned; then write and store them on the page Drive data.'
          : 'The test move is made once there and back with the planned gains, the trial gains are written to the running copy, and the move is made again. Enable, home and go to the start on the page of moves first.'}
      </Typography>
    </>
  );
}

function Comparison({ runId }: { readonly runId: string }) {
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { palette } = useTheme();
  const { data } = useRunQuery(runId);
  const run = data?.id === runId ? data : undefined;
  const axis = run && isAxis(run.axis) ? run.axis : undefined;
  const work = useMemo(
    (): TrialWork | undefined => run && axis && { axis, run: { id: run.id, header: run.trace } },
    [run, axis],
  );
  const answer = useJob<TrialWork, TrialAnswer>(startWorker, work);
  const result = answer?.input === work ? answer?.result : undefined;
  const [main, second] = [palette.primary.main, palette.warning.main];
  const curves = useMemo(
    (): readonly Curve[] => [
      ...(result?.before ? [{ points: result.before.error, colour: second, isDashed: true }] : []),
      ...(result?.after ? [{ points: result.after.error, colour: main }] : []),
    ],
    [result, main, second],
  );
  if (!result || !axis) return <Typography color="text.secondary">Reading …</Typography>;
  const { before, after, because, seconds } = result;
  if (because !== undefined || !before || !after)
    return <Typography variant="body2">{`Nothing to compare: ${because ?? 'nothing was recorded'}.`}</Typography>;
  const [low, high] = extentOf(curves);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '330px minmax(0, 1fr)', gap: 1.5, mt: 0.75, alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <MeasuredTable
          label="Gains of the trial"
          heads={['Gain', 'Before', 'After']}
          rows={gainRows
            .filter(({ role }) => triedRoles(axis).includes(role))
            .map(({ role, label }) => ({
              key: role,
              cells: [label, gainWords(axis.settings[role]), gainWords(axis.tuning.trial[role])],
            }))}
        />
        <MeasuredTable
          label="Before and after"
          heads={['Measured', 'Before', 'After']}
          rows={figureRows(before, after, units)}
        />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" sx={{ fontSize: 12 }}>
          {`Following error, ${units.name('{u}')}; dashed: before, full line: after`}
        </Typography>
        <CurveChart
          label="Following error before and after"
          curves={curves}
          height={190}
          xRange={[0, seconds]}
          yRange={rangeOnTicks(low, high, ticksHigh(190, false))}
          xUnit="s"
        />
      </Box>
    </Box>
  );
}

const gainWords = (value: number | null): string => (value === null ? 'not planned' : formatNumber(value, 4));

function figureRows(before: TrialHalf, after: TrialHalf, units: ShownUnits) {
  const row = (label: string, of: (half: TrialHalf) => string) => ({
    key: label,
    cells: [label, of(before), of(after)],
  });
  const length = (value: number | undefined) =>
    value === undefined ? '—' : units.quantity(Number(value.toPrecision(3)), '{u}');
  const percent = (value: number) => `${formatNumber(value, 3)} %`;
  return [
    row('Peak following error', ({ figures }) => length(figures.peakFollowingError)),
    row('Lag behind the demand', ({ reading }) =>
      reading ? `${formatNumber(1000 * reading.errorPerSpeed, 3)} ms` : '—',
    ),
    row('Error while the speed changes', ({ reading }) => length(reading?.accelerating.peak)),
    row('Overshoot after a stop', ({ reading }) => length(reading?.overshoot)),
    row('Settling after the last move', ({ figures: { settlingTime } }) =>
      settlingTime === undefined ? 'does not settle' : `${formatNumber(settlingTime, 3)} s`,
    ),
    row('Rings at', ({ reading }) => (reading?.ringing ? `${formatNumber(reading.ringing.frequency, 3)} Hz` : '—')),
    row('Peak torque', ({ figures }) => percent(figures.peakTorque)),
    row('RMS torque', ({ figures }) => percent(figures.rmsTorque)),
  ];
}
