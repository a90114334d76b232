import { byKind, type RunRecord } from '@kavrid/contract';
import { Box, Tab, Tabs } from '@mui/material';
import { useMemo, useState } from 'react';
import type { TraceAnswer, TraceSources, TraceWork } from '../jobs/answerTrace.ts';
import type { MeasuredTrace, ViewedTraces } from '../jobs/traceJob.ts';
import { useJob } from '../jobs/useJob.ts';
import type { ShownUnits } from '../ui/units.ts';
import { CursorTable } from './CursorTable.tsx';
import { MovesTable } from './MovesTable.tsx';
import { SampleTable } from './SampleTable.tsx';
import { SettingsCompared } from './SettingsCompared.tsx';
import type { ShownChannel } from './shownChannels.ts';
import { SpectrumPanel } from './SpectrumPanel.tsx';
import { SteadySpeedsTable } from './SteadySpeedsTable.tsx';
import { TooQuickNotes } from './TooQuickNotes.tsx';
import { reserveOf, type TraceTraits } from './traceTraits.ts';
import type { TraceState } from './traceState.ts';
import { WindowTable } from './WindowTable.tsx';

const startWorker = () => new Worker(new URL('../jobs/trace.worker.ts', import.meta.url), { type: 'module' });

const tabs = {
  window: 'Window shown',
  cursors: 'Cursors',
  moves: 'Moves',
  steady: 'Steady speeds',
  spectrum: 'Spectrum',
  settings: 'Settings compared',
  table: 'Table',
} as const;
type TabName = keyof typeof tabs;

/** What the traces are measured to be, below their charts. */
export function TraceDetails(props: {
  readonly sources: TraceSources;
  readonly runs: readonly RunRecord[];
  readonly viewed: ViewedTraces;
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly units: ShownUnits;
  readonly traits: TraceTraits;
  /** Those that are drawn, and all there are. */
  readonly channels: readonly ShownChannel[];
  readonly all: readonly ShownChannel[];
}) {
  const { sources, runs, viewed, state, change, units, traits, channels, all } = props;
  const [tab, setTab] = useState<TabName>('window');
  const [spectrum, setSpectrum] = useState(traits.firstSpectrum);
  const { window, trigger } = state;
  const spectrumOf = all.some(({ id }) => id === spectrum) ? spectrum : (all[0]?.id ?? '');
  const work = useMemo(
    (): TraceWork => ({
      kind: 'measure',
      sources,
      view: {
        channels: channels.map(({ id }) => id),
        window,
        trigger,
        spectrum: spectrumOf,
        resonance: byKind(sources.member, { axis: ({ tuning }) => tuning.resonance, spindle: () => null }),
      },
    }),
    [sources, channels, window, trigger, spectrumOf],
  );
  const answer = useJob<TraceWork, TraceAnswer>(startWorker, work);
  const measured: readonly MeasuredTrace[] | undefined =
    answer?.input.sources === sources ? answer.result.measured : undefined;
  const nameOf = (id: string): string => {
    const place = runs.findIndex((run) => run.id === id);
    const run = runs[place];
    if (!run) return 'prediction';
    return run.name !== '' ? run.name : place === 0 ? 'measured' : `compared ${place}`;
  };
  const applies: Readonly<Partial<Record<TabName, boolean>>> = {
    settings: runs.length > 1,
    moves: traits.hasPosition,
    steady: !traits.hasPosition,
  };
  const open = (Object.keys(tabs) as TabName[]).filter((each) => applies[each] ?? true);
  const shown = open.includes(tab) ? tab : 'window';
  return (
    <>
      <TooQuickNotes measured={measured ?? []} nameOf={nameOf} />
      <Tabs value={shown} onChange={(_, next: TabName) => setTab(next)} sx={{ minHeight: 32, mb: 0.5 }}>
        {open.map((each) => (
          <Tab key={each} value={each} label={tabs[each]} sx={{ minHeight: 32, py: 0, textTransform: 'none' }} />
        ))}
      </Tabs>
      <Box sx={{ minHeight: 120, overflowX: 'auto' }}>
        {shown === 'window' && (
          <WindowTable {...{ measured: measured ?? [], channels, nameOf, reserve: reserveOf(sources.member) }} />
        )}
        {shown === 'cursors' && <CursorTable {...{ viewed, channels, state, change, nameOf }} />}
        {shown === 'moves' && <MovesTable {...{ measured: measured ?? [], units, nameOf, change }} />}
        {shown === 'steady' && (
          <SteadySpeedsTable traces={(measured ?? []).map(({ id, steady }) => ({ name: nameOf(id), steady }))} />
        )}
        {shown === 'spectrum' && (
          <SpectrumPanel
            {...{ measured: measured ?? [], all, runIds: runs.map(({ id }) => id), nameOf }}
            of={spectrumOf}
            choose={setSpectrum}
          />
        )}
        {shown === 'settings' && <SettingsCompared runs={runs} nameOf={nameOf} />}
        {shown === 'table' && <SampleTable {...{ viewed, channels, state, units, nameOf }} />}
      </Box>
    </>
  );
}
