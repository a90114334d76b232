import { isAxis } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography, useTheme } from '@mui/material';
import { useMemo, useState } from 'react';
import type { BodeCurves, ResponseAnswer, ResponseWork } from '../jobs/answerResponse.ts';
import { useJob } from '../jobs/useJob.ts';
import { isReady } from '../member/isReady.ts';
import { useEdit } from '../member/memberContext.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { runName } from '../trace/runName.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { extentOf, type Curve } from '../ui/chart/curve.ts';
import { CurveChart, ticksHigh } from '../ui/chart/CurveChart.tsx';
import { rangeOnTicks } from '../ui/chart/ticks.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';

const startWorker = () => new Worker(new URL('../jobs/response.worker.ts', import.meta.url), { type: 'module' });

const charts = [
  { of: 'plant', part: 'gain', title: 'Mechanics, speed over torque: gain, dB' },
  { of: 'plant', part: 'phase', title: 'Mechanics: phase, °' },
  { of: 'closed', part: 'gain', title: 'Speed over demanded speed: gain, dB' },
  { of: 'closed', part: 'phase', title: 'Speed over demanded speed: phase, °' },
] as const;

const height = 140;

/** The frequency response as a sweep measures it, over the model's, with the resonance that it shows. */
export function MeasuredResponsePanel() {
  const { memberId } = useAxis();
  const { data: runs = [] } = useRunsQuery(memberId);
  const [chosen, setChosen] = useState<string>();
  const swept = runs.filter(({ kind }) => kind === 'sweep' || kind === 'imported');
  const shown = swept.find(({ id }) => id === chosen)?.id ?? swept.find(({ kind }) => kind === 'sweep')?.id;
  return (
    <Panel
      title="Measured frequency response"
      aside={
        swept.length > 0 && (
          <Box sx={{ '& .MuiTextField-root': { width: 330 } }}>
            <ChoiceField
              label="Recording with an excitation"
              value={shown ?? ''}
              choices={[
                ...(shown === undefined ? [{ value: '', label: 'none chosen' }] : []),
                ...swept.map((each) => ({ value: each.id, label: runName(each) })),
              ]}
              onChange={setChosen}
            />
          </Box>
        )
      }
    >
      <SweepOrder />
      {shown !== undefined && <MeasuredCurves runId={shown} />}
    </Panel>
  );
}

function SweepOrder() {
  const { memberId, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const dispatch = useAppDispatch();
  const ready = useAppSelector(({ live: { live } }) => isReady(live) && live?.kind === 'axis' && live.homed);
  const progress = useAppSelector(({ live: { live } }) => (live?.activity === 'sweep' ? live.progress : ''));
  const limit = useAppSelector(({ live: { live } }) => (live?.kind === 'axis' ? live.jogLimit?.speed : undefined));
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr) auto', gap: 0.75, alignItems: 'start' }}>
        <NumberField label="First frequency" path={['tuning', 'sweep', 'from']} rule="resonance" />
        <NumberField label="Last frequency" path={['tuning', 'sweep', 'to']} rule="resonance" />
        <NumberField label="Torque at most" path={['tuning', 'sweep', 'torque']} rule="percent" />
        <NumberField label="Travel at most" path={['tuning', 'sweep', 'travel']} rule="distance" />
        <Button
          variant="contained"
          disabled={!ready}
          onClick={() =>
            void dispatch(act(memberId, (version) => ({ type: 'makeMove', version, order: { kind: 'sweep' } })))
          }
        >
          Run the sweep
        </Button>
      </Box>
      <Typography role="status" variant="body2" color={progress === '' ? 'text.secondary' : 'primary'} sx={{ mt: 0.5 }}>
        {progress !== ''
          ? progress
          : `The drive swings the axis for 10 s where it stands${limit === undefined ? '' : `, no faster than ${units.quantity(limit, '{u}/s')}`}. Enable and home the axis on the page of moves first.`}
      </Typography>
    </>
  );
}

function MeasuredCurves({ runId }: { readonly runId: string }) {
  const { document } = useAxis();
  const edit = useEdit();
  const { palette } = useTheme();
  const { data } = useRunQuery(runId);
  const run = data?.id === runId ? data : undefined;
  const work = useMemo(
    (): ResponseWork | undefined =>
      run && isAxis(run.axis) ? { axis: run.axis, run: { id: run.id, header: run.trace } } : undefined,
    [run],
  );
  const answer = useJob<ResponseWork, ResponseAnswer>(startWorker, work);
  const result = answer?.input === work ? answer?.result : undefined;
  const [main, second] = [palette.primary.main, palette.warning.main];
  const curves = useMemo(
    () =>
      charts.map(({ of, part }): readonly Curve[] => {
        const line = (
          side: { readonly [K in typeof of]: BodeCurves } | undefined,
          colour: string,
          isDashed: boolean,
        ) => (side ? [{ points: side[of][part], colour, isDashed }] : []);
        return [...line(result?.model, second, true), ...line(result?.measured, main, false)];
      }),
    [result, main, second],
  );
  if (!result) return <Typography color="text.secondary">Reading …</Typography>;
  if (result.because !== undefined) return <Typography>{`Nothing is drawn: ${result.because}.`}</Typography>;
  const { resonance, points, leftOut, friction, range } = result;
  const decades = [Math.log10(range[0]), Math.log10(range[1])] as const;
  const hertz = resonance && Number(resonance.hertz.toPrecision(3));
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, mt: 0.5 }}>
        {charts.map(({ title }, k) => {
          const [low, high] = extentOf(curves[k] ?? []);
          return (
            <Box key={title} sx={{ minWidth: 0 }}>
              <Typography variant="body2" sx={{ fontSize: 12 }}>
                {title}
              </Typography>
              <CurveChart
                label={title}
                curves={curves[k] ?? []}
                height={height}
                xRange={decades}
                yRange={rangeOnTicks(low, high, ticksHigh(height, false))}
                xUnit="Hz"
                isLogarithmic
              />
            </Box>
          );
        })}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mt: 0.5 }}>
        <Typography variant="body2" sx={{ flex: 1 }}>
          {`Full line: measured, ${points} points${leftOut > 0 ? `; ${leftOut} left out, where less than 0.8 of the signals belongs to the excitation` : ''}. Dashed: model.${friction > 0.5 ? ` Dry friction of ${formatNumber(friction, 3)} % of rated torque is taken away.` : ''} `}
          {resonance
            ? `A resonance at ${formatNumber(resonance.hertz, 3)} Hz stands ${formatNumber(20 * Math.log10(resonance.height), 2)} dB above the inertia.`
            : 'No resonance stands 6 dB above the inertia.'}
        </Typography>
        {hertz !== undefined && (
          <Button
            size="small"
            disabled={document.tuning.resonance === hertz}
            onClick={() => edit(['tuning', 'resonance'], hertz)}
          >
            {`Plan a resonance of ${formatNumber(hertz, 3)} Hz`}
          </Button>
        )}
      </Box>
    </>
  );
}
