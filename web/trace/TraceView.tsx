import { addressOf } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Alert, Box, Button, Link, Typography } from '@mui/material';
import { useMemo, useState, type KeyboardEvent } from 'react';
import { useSearchParams } from 'react-router';
import type { TraceAnswer, TraceWork } from '../jobs/answerTrace.ts';
import type { ViewedTraces } from '../jobs/traceJob.ts';
import { predictionId } from '../jobs/tracePrediction.ts';
import { useJob } from '../jobs/useJob.ts';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { useRunsQuery } from '../store/api.ts';
import { dash } from '../ui/chart/curve.ts';
import type { ChartPointer } from '../ui/chart/chartPointer.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { useSteady } from '../ui/useSteady.ts';
import { DescribeRunDialog } from './DescribeRunDialog.tsx';
import { ImportTraceDialog } from './ImportTraceDialog.tsx';
import { RunChoice } from './RunChoice.tsx';
import { runName } from './runName.ts';
import { shownChannels } from './shownChannels.ts';
import { TraceCharts } from './TraceCharts.tsx';
import { TraceDetails } from './TraceDetails.tsx';
import { traceLook } from './traceLook.ts';
import { useTraceColours } from './useTraceColours.ts';
import { panned, startState, windowWithin, zoomed, type TraceState, type Window } from './traceState.ts';
import { PartShown, TraceTools } from './TraceTools.tsx';
import { traceTraits, type TraceTraits } from './traceTraits.ts';
import { useTraces, type ChosenTraces } from './useTraces.ts';

const startWorker = () => new Worker(new URL('../jobs/trace.worker.ts', import.meta.url), { type: 'module' });

/** Curves of so many points are as fine as a screen. */
const drawnPoints = 1800;

/** Recordings of an axis or a spindle and predictions, looked at and laid over each other. */
export function TraceView() {
  const member = useMember();
  const { memberId, document } = member;
  const traits = traceTraits[document.kind];
  const units = useShownUnits(wordingOf(member));
  const { data: runs } = useRunsQuery(memberId);
  const [address, setAddress] = useSearchParams();
  const [state, setState] = useState(() => startState(traits));
  const [dialog, setDialog] = useState<'none' | 'import' | 'describe'>('none');
  const change = (part: Partial<TraceState>) => setState((last) => ({ ...last, ...part }));
  const asked = address.getAll('run').filter((id) => id === predictionId || runs?.some((run) => run.id === id));
  const ids = (asked.length > 0 ? asked : (runs ?? []).slice(0, 1).map(({ id }) => id)).filter(
    (id) => id !== predictionId,
  );
  const choose = (next: readonly string[]) => {
    setAddress(new URLSearchParams((next.length > 0 ? next : [predictionId]).map((id) => ['run', id])), {
      replace: true,
    });
    change({ window: undefined, cursors: [undefined, undefined], trigger: undefined });
  };
  const chosen = useTraces(document, ids, state.isPredicted);
  const main = runs?.find(({ id }) => id === ids[0]);
  return (
    <Panel
      title="Traces"
      aside={
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <RunChoice runs={runs ?? []} prediction={traits.prediction} {...{ ids, choose }} />
          {main && (
            <>
              <Button onClick={() => setDialog('describe')}>Name and notes</Button>
              <Link href={`/api${addressOf('readTraceCsv', { id: main.id })}`} download sx={{ fontSize: 13 }}>
                Export as CSV
              </Link>
            </>
          )}
          <Button variant="outlined" onClick={() => setDialog('import')}>
            Import a trace
          </Button>
        </Box>
      }
    >
      {main && main.notes !== '' && (
        <Typography variant="body2" color="text.secondary" sx={{ whiteSpace: 'pre-wrap', mb: 0.5 }}>
          {main.notes}
        </Typography>
      )}
      {main && (main.end !== 'finished' || main.because) && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          {main.end === 'finished' ? 'This run has a gap' : `This run ended early: ${main.end}`}
          {main.because && main.because !== main.end ? ` (${main.because})` : ''}.
        </Alert>
      )}
      <Drawn key={ids.length === 0 ? 'prediction' : 'runs'} {...{ chosen, ids, state, change, units, traits }} />
      {dialog === 'import' && (
        <ImportTraceDialog
          memberId={memberId}
          {...{ units, traits }}
          close={() => setDialog('none')}
          done={(id) => choose([id])}
        />
      )}
      {dialog === 'describe' && main && <DescribeRunDialog run={main} close={() => setDialog('none')} />}
    </Panel>
  );
}

const nothing: ViewedTraces = { traces: [], whole: [0, 1], along: undefined };

function Drawn(props: {
  readonly chosen: ChosenTraces;
  readonly ids: readonly string[];
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly units: ShownUnits;
  readonly traits: TraceTraits;
}) {
  const { chosen, ids, state, change, units, traits } = props;
  const { sources, runs } = chosen;
  const channels = useMemo(
    () =>
      shownChannels(
        runs.map(({ trace }) => trace),
        units,
        traits,
      ),
    [runs, units, traits],
  );
  const drawn = useMemo(() => {
    const wanted = channels.filter(({ id }) => state.channels.includes(id));
    return wanted.length > 0 ? wanted : channels.slice(0, 4);
  }, [channels, state.channels]);
  const { over, trigger, window, cursors } = state;
  const work = useMemo(
    (): TraceWork | undefined =>
      sources && {
        kind: 'view',
        sources,
        view: { channels: drawn.map(({ id }) => id), over, trigger, window, cursors, points: drawnPoints },
      },
    [sources, drawn, over, trigger, window, cursors],
  );
  const answer = useJob<TraceWork, TraceAnswer>(startWorker, work);
  // An answer for a previous selection is not drawn for this one.
  const isNow = answer?.input.sources === sources;
  const viewed = (isNow ? answer?.result.viewed : undefined) ?? nothing;
  const because = isNow ? answer?.result.because : undefined;
  const { whole } = viewed;
  const isOverTime = (answer?.input.kind === 'view' ? answer.input.view.over : over) === 'time';
  const steady = useSteady((part: Partial<TraceState>) => change(part));
  const pointer = useMemo(
    (): ChartPointer => ({
      pick: (x, isSecond) => steady({ cursors: isSecond ? [cursors[0], x] : [x, cursors[1]] }),
      select: (from, to) => steady({ window: windowWithin([from, to], whole) }),
      pan: (by) => {
        const [from, to] = window ?? whole;
        steady({ window: windowWithin([from + by, to + by], whole) });
      },
    }),
    [steady, cursors, window, whole],
  );
  const xRange: Window = isOverTime ? (window ?? whole) : alongRange(viewed, units);
  const marks = isOverTime
    ? cursors.flatMap((at, k) => (at === undefined ? [] : [{ at, label: k === 0 ? 'A' : 'B' }]))
    : [];
  return (
    <>
      <TraceTools {...{ state, change, channels }} hasPrediction={ids.length > 0} hasPosition={traits.hasPosition} />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'end', mt: 0.5 }}>
        <Legend {...{ runs, ids, viewed }} prediction={traits.prediction} />
        <PartShown {...{ state, change, whole }} />
      </Box>
      {because !== undefined && (
        <Typography variant="body2" color="text.secondary">{`No prediction: ${because}.`}</Typography>
      )}
      {viewed.traces.some(({ isUntriggered }) => isUntriggered) && (
        <Alert severity="warning" sx={{ py: 0 }}>
          The trigger level is not crossed in every trace; time zero of such a trace is that of its recording.
        </Alert>
      )}
      <Box
        role="group"
        aria-label="Charts. Arrow keys: earlier and later; plus and minus: zoom; Home: the whole"
        tabIndex={0}
        onKeyDown={(event) => keyed(event, state, whole, change)}
      >
        {viewed.traces.length === 0 ? (
          <Typography color="text.secondary" sx={{ height: 400 }}>
            {because === undefined ? 'Reading …' : 'There is nothing to draw.'}
          </Typography>
        ) : (
          <TraceCharts
            {...{ viewed, marks, xRange }}
            channels={drawn}
            runIds={ids}
            xUnit={isOverTime ? 's' : units.unit}
            xScale={isOverTime ? 1 : units.shown(1, '{u}')}
            pointer={isOverTime ? pointer : undefined}
          />
        )}
      </Box>
      {sources && viewed.traces.length > 0 && (
        <TraceDetails {...{ sources, runs, viewed, state, change, units, traits }} channels={drawn} all={channels} />
      )}
    </>
  );
}

/** The range of positions with some room. */
function alongRange({ along }: ViewedTraces, units: ShownUnits): Window {
  const [low, high] = along ?? [0, 1];
  const room = (high - low) / 40 || 0.5;
  return [units.shown(low - room, '{u}'), units.shown(high + room, '{u}')];
}

function keyed(
  event: KeyboardEvent,
  { window }: TraceState,
  whole: Window,
  change: (part: Partial<TraceState>) => void,
): void {
  const next: Readonly<Record<string, () => Window | undefined>> = {
    ArrowLeft: () => panned(window, whole, -0.1),
    ArrowRight: () => panned(window, whole, 0.1),
    '+': () => zoomed(window, whole, 0.5),
    '-': () => zoomed(window, whole, 2),
    Home: () => undefined,
  };
  const made = next[event.key];
  if (!made) return;
  event.preventDefault();
  change({ window: made() });
}

/** What each line is. */
function Legend({
  runs,
  ids,
  viewed,
  prediction,
}: {
  readonly runs: ChosenTraces['runs'];
  readonly ids: readonly string[];
  readonly viewed: ViewedTraces;
  readonly prediction: string;
}) {
  const colours = useTraceColours();
  return (
    <Box
      component="ul"
      aria-label="Traces drawn"
      sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, m: 0, p: 0, listStyle: 'none', fontSize: 12.5 }}
    >
      {viewed.traces.map(({ id }) => {
        const { colour, isDashed } = traceLook(colours, id, ids);
        const run = runs.find((each) => each.id === id);
        return (
          <Box component="li" key={id} sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
            <svg width="28" height="6" aria-hidden>
              <path d="M0 3h28" stroke={colour} strokeWidth="2" strokeDasharray={isDashed ? dash.join(' ') : ''} />
            </svg>
            {run
              ? `${runName(run)}, ${formatNumber(1000 * run.trace.period, 4)} ms a sample`
              : ids.length > 1
                ? 'prediction of the first'
                : ids.length > 0
                  ? 'prediction'
                  : prediction}
          </Box>
        );
      })}
    </Box>
  );
}
