import {
  holdsPosition,
  isAxis,
  type AxisDocument,
  type MeasuredMechanics,
  type RunKind,
  type RunSummary,
} from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import {
  tuningAdvice,
  type MoveReading,
  type SuggestedSettings,
  type TunedSettings,
  type TuningAdvice,
} from '@kavrid/core/tuning';
import { Box, Button, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { MoveJobResult, MoveRequest } from '../jobs/moveJob.ts';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { useEdit } from '../member/memberContext.ts';
import { useAxis } from '../member/useAxis.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { runName } from '../trace/runName.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { suggestedSettings } from './suggestedSettings.ts';

const startMoves = () => new Worker(new URL('../jobs/move.worker.ts', import.meta.url), { type: 'module' });
let keys = 0;

/** Runs in which a demanded position is followed. */
const movedKinds: readonly RunKind[] = ['test move', 'move', 'speed series', 'controller move', 'imported'];

const settingWords: Readonly<Record<keyof Omit<TunedSettings, 'inPosition'>, string>> = {
  positionGain: 'Position gain, 1/s',
  speedBandwidth: 'Speed loop bandwidth, rad/s',
  speedIntegralTime: 'Integral time, ms',
  velocityFeedforward: 'Velocity feedforward, %',
  accelerationFeedforward: 'Acceleration feedforward, %',
};

const movedRuns = (runs: readonly RunSummary[]): readonly RunSummary[] =>
  runs.filter(({ kind }) => movedKinds.includes(kind));

/** The run that was chosen, else the newest test move, else the newest move. */
const analysedOf = (moved: readonly RunSummary[], chosen: string | undefined): string | undefined =>
  (moved.find(({ id }) => id === chosen) ?? moved.find(({ kind }) => kind === 'test move') ?? moved[0])?.id;

/** What a recorded or imported move says of the loops, the newest test move unless another is chosen; without one, the predicted move. */
export function TraceAdvice({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { memberId } = useAxis();
  const { data: runs = [] } = useRunsQuery(memberId);
  const [chosen, setChosen] = useState<string>();
  const moved = movedRuns(runs);
  const analysed = analysedOf(moved, chosen);
  return (
    <Panel
      title={analysed === undefined ? 'Analysis of the predicted test move' : 'Analysis of a move'}
      aside={
        analysed !== undefined && (
          <Box sx={{ '& .MuiTextField-root': { width: 380 } }}>
            <ChoiceField
              label="Run analysed"
              value={analysed}
              choices={moved.map((each) => ({ value: each.id, label: runName(each) }))}
              onChange={setChosen}
            />
          </Box>
        )
      }
    >
      <Analysis runId={analysed} plan={plan} />
    </Panel>
  );
}

function Analysis({ runId, plan }: { readonly runId: string | undefined; readonly plan: TuningPlan | undefined }) {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { data: run } = useRunQuery(runId ?? '', { skip: runId === undefined });
  const request = useMemo((): MoveRequest | undefined => {
    if (run?.id !== runId) return undefined;
    const axis = run && isAxis(run.axis) ? run.axis : document;
    return {
      key: ++keys,
      axis,
      run: run && { id: run.id, header: run.trace },
      isWhole: run ? run.end === 'finished' : true,
      isTestMove: run ? run.kind === 'test move' : true,
      view: { points: 10 },
    };
  }, [runId, run, document]);
  const result = useJob<MoveRequest, MoveJobResult>(startMoves, request)?.result;
  const made = run && isAxis(run.axis) ? run.axis : document;
  const reading = run ? result?.measuredReading : result?.predictedReading;
  return (
    <>
      {result && !reading && (
        <Typography variant="body2">
          {!run && result.because
            ? `Nothing: ${result.because}.`
            : 'Nothing: no demanded position that moves was recorded.'}
        </Typography>
      )}
      {result?.mechanics && <MechanicsTable mechanics={result.mechanics} />}
      {reading && (
        <Reading
          reading={reading}
          settings={settingsOf(made, result?.inPosition)}
          suggested={suggestedSettings(plan, made.settings.inertiaRatio)}
          units={units}
        />
      )}
    </>
  );
}

const tenth = (percent: number): number => Math.round(10 * percent) / 10;

/** Inertia and friction as the move tells them, over what is computed from the plates. */
function MechanicsTable({ mechanics }: { readonly mechanics: MeasuredMechanics }) {
  const { document } = useAxis();
  const edit = useEdit();
  const { inertia, inertiaRatio, computedInertia, computedRatio, uncertainty, friction, gravity } = mechanics;
  const ratio = Number(inertiaRatio.toPrecision(3));
  const shown = (value: number | undefined) => (value === undefined ? 'not known' : formatNumber(value, 4));
  return (
    <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', mb: 1 }}>
      <MeasuredTable
        label="Inertia and friction"
        heads={['At the motor', 'Measured', 'Computed']}
        rows={[
          { key: 'inertia', cells: ['Total inertia, kg·m²', shown(inertia), shown(computedInertia)] },
          {
            key: 'ratio',
            cells: [
              `Inertia ratio, scatter of the fit ± ${formatNumber(100 * uncertainty, 2)} %`,
              formatNumber(inertiaRatio, 3),
              computedRatio === undefined ? 'not known' : formatNumber(computedRatio, 3),
            ],
          },
          { key: 'friction', cells: ['Dry friction, % of rated torque', formatNumber(tenth(friction), 3), ''] },
          { key: 'gravity', cells: ['Holding torque, % of rated torque', formatNumber(tenth(gravity), 3), ''] },
        ]}
      />
      <Button
        size="small"
        sx={{ flexShrink: 0 }}
        disabled={!(ratio > 0) || document.settings.inertiaRatio === ratio}
        onClick={() => edit(['settings', 'inertiaRatio'], ratio)}
      >
        {`Plan an inertia ratio of ${formatNumber(ratio, 3)}`}
      </Button>
    </Box>
  );
}

/** Of whoever closes the position loop. undefined: a gain that advice stands on is not planned. */
function settingsOf(axis: AxisDocument, inPosition: number | undefined): TunedSettings | undefined {
  const { speedBandwidth, speedIntegralTime, accelerationFeedforward } = axis.settings;
  const loop = hostLoop(axis);
  const positionGain = loop ? loop.gain : axis.settings.positionGain;
  const velocityFeedforward = loop ? (loop.velocityFeedforward ?? 0) : axis.settings.velocityFeedforward;
  if (positionGain === null || speedBandwidth === null || speedIntegralTime === null || velocityFeedforward === null)
    return undefined;
  return {
    ...{ positionGain, speedBandwidth, speedIntegralTime, velocityFeedforward },
    accelerationFeedforward: accelerationFeedforward ?? undefined,
    inPosition: inPosition ?? 0,
  };
}

/** A position loop that the controller closes. */
const hostLoop = (axis: AxisDocument) =>
  !holdsPosition(axis) && axis.command.kind === 'analog' ? axis.command.loop : null;

function Reading(props: {
  readonly reading: MoveReading;
  readonly settings: TunedSettings | undefined;
  readonly suggested: SuggestedSettings | undefined;
  readonly units: ShownUnits;
}) {
  const { reading, settings, suggested, units } = props;
  const { document } = useAxis();
  const edit = useEdit();
  const name = (value: number) => units.quantity(value, '{u}');
  const loop = hostLoop(document);
  // A controller has no feedforward of the acceleration.
  const advice = (settings ? tuningAdvice(reading, settings, name, suggested) : []).filter(
    ({ change }) => !loop || change?.setting !== 'accelerationFeedforward',
  );
  const use = ({ setting, to }: NonNullable<TuningAdvice['change']>) => {
    if (loop && setting === 'positionGain') edit(['command', 'loop', 'gain'], to);
    else if (loop && setting === 'velocityFeedforward') edit(['command', 'loop', 'velocityFeedforward'], to);
    else edit(['settings'], { ...document.settings, [setting]: to });
  };
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '300px minmax(0, 1fr)', alignItems: 'start' }}>
      <FactTable
        label="Analysis of the move"
        rows={[
          { what: 'Peak following error', is: name(reading.peakError), strong: true },
          { what: 'Lag behind the demand', is: `${formatNumber(1000 * reading.errorPerSpeed, 3)} ms` },
          {
            what: 'Error per acceleration',
            is: `${formatNumber(1e6 * reading.errorPerAcceleration, 3)} ms²`,
          },
          { what: 'Remaining error', is: name(reading.residual) },
          { what: 'Overshoot after a stop', is: name(reading.overshoot) },
          ...(reading.ringing
            ? [{ what: 'Rings at', is: `${formatNumber(reading.ringing.frequency, 3)} Hz`, isWrong: true }]
            : []),
          ...(reading.saturated !== undefined && reading.saturated > 0
            ? [{ what: 'At the torque limit', is: `${formatNumber(100 * reading.saturated, 3)} % of the motion` }]
            : []),
        ]}
      />
      <Box component="ul" aria-label="Advice" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.75 }}>
        {advice.length === 0 && (
          <Typography component="li" variant="body2">
            {settings ? 'Nothing stands out: the loops follow as their gains say.' : 'Plan the gains to get advice.'}
          </Typography>
        )}
        {advice.map(({ id, severity, message, remedy, change, expectedError }) => (
          <Box
            component="li"
            key={id}
            sx={{ borderLeft: 3, borderColor: severity === 'warn' ? 'warning.main' : 'divider', pl: 1 }}
          >
            <Typography variant="body2">{message}</Typography>
            <Typography variant="body2" color="text.secondary">
              {remedy}
            </Typography>
            {change && (
              <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
                <Typography variant="body2">
                  {`${settingWords[change.setting]}: ${formatNumber(change.from, 3)} → ${formatNumber(change.to, 3)}${
                    expectedError === undefined
                      ? ''
                      : `; expected peak error about ${name(Number(expectedError.toPrecision(2)))}`
                  }`}
                </Typography>
                <Button size="small" sx={{ flexShrink: 0 }} onClick={() => use(change)}>
                  Use in the plan
                </Button>
              </Box>
            )}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
