import { scatterOf } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, TextField, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { LiveState } from '@kavrid/contract';
import { useAxis } from '../member/useAxis.ts';
import { isReady } from '../member/isReady.ts';
import { useAxisLive } from '../member/useLive.ts';
import { useAddMeasurementMutation } from '../store/api.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { readStarts, randomStarts } from './seriesStarts.ts';
import { useSavedVersion } from '../member/useSavedVersion.ts';

type Series = NonNullable<LiveState['homingSeries']>;

/** Homing again and again, measured by counts that homing does not reset, or by a gauge. */
export function HomingSeriesPanel({ indexSpacing }: { readonly indexSpacing: number | undefined }) {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const text = useAppSelector(({ live: { live } }) =>
    live?.kind === 'axis' && live.homingSeries ? JSON.stringify(live.homingSeries) : undefined,
  );
  const series = useMemo(() => (text === undefined ? undefined : (JSON.parse(text) as Series)), [text]);
  return (
    <Panel title="Repeatability, measured">
      {document.homing.by === 'drive' ? <SeriesByDrive series={series} /> : <SeriesByController series={series} />}
      {series && series.homes.length > 0 && (
        <Measured
          homes={series.homes}
          of={series.of}
          indexSpacing={indexSpacing}
          shown={(value) => units.shown(value, '{u}')}
          unit={units.unit}
        />
      )}
      <GaugeReadings />
    </Panel>
  );
}

/** The drive homes from starts that are shown. */
function SeriesByDrive({ series }: { readonly series: Series | undefined }) {
  const { memberId, document } = useAxis();
  const dispatch = useAppDispatch();
  const { minusSoftLimit: minus, plusSoftLimit: plus } = document.settings;
  const { positionAtHome } = document.homing;
  const [text, setText] = useState(() => startsText(randomStarts(minus, plus, positionAtHome ?? 0)));
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const { progress, isRunning } = useAxisLive((live) => ({
    progress: live?.activity === 'homing series' ? live.progress : '',
    isRunning: live?.activity === 'homing series',
  }));
  const starts = readStarts(text);
  const isUsable = 'starts' in starts;
  const isPaused = series?.isPaused === true;
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
        <TextField
          size="small"
          fullWidth
          label={`Starts, ${document.motion.kind === 'linear' ? 'mm' : 'axis units'}`}
          value={text}
          error={!isUsable}
          helperText={isUsable ? undefined : starts.because}
          onChange={(event) => setText(event.target.value)}
        />
        <Button onClick={() => setText(startsText(randomStarts(minus, plus, positionAtHome ?? 0)))}>Others</Button>
      </Box>
      <Box sx={{ my: 0.75, display: 'flex', gap: 1, alignItems: 'center' }}>
        {isRunning ? (
          <Button
            variant="outlined"
            onClick={() => void dispatch(command({ type: 'pauseSeries', isPaused: !isPaused }))}
          >
            {isPaused ? 'Go on' : 'Pause at home'}
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!ready || !isUsable}
            onClick={() => {
              if (!isUsable) return;
              void dispatch(act(memberId, (version) => ({ type: 'homeSeries', version, starts: [...starts.starts] })));
            }}
          >
            {`Home ${isUsable ? starts.starts.length + 1 : ''} times`}
          </Button>
        )}
        <Typography variant="body2" role="status">
          {isRunning && isPaused ? `${progress}; pauses once it is home` : progress}
        </Typography>
      </Box>
    </>
  );
}

/** The controller homes, and the counts of the encoder are noted each time it stands at the same place. */
function SeriesByController({ series }: { readonly series: Series | undefined }) {
  const { memberId } = useAxis();
  const dispatch = useAppDispatch();
  const isUp = useAxisLive((live) => live?.link === 'up' && live.activity === 'idle');
  const isGoing = series?.by === 'controller';
  return (
    <>
      <Typography variant="body2">
        The controller homes this axis. Home it there, let it go to the same position each time, always from the same
        side, and note it here: the encoder of the drive, which homing does not reset, is the reference.
      </Typography>
      <Box sx={{ my: 0.75, display: 'flex', gap: 1 }}>
        <Button
          variant="contained"
          disabled={!isUp}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'noteHome', version })))}
        >
          Note this homing
        </Button>
        <Button
          variant="outlined"
          disabled={!isUp || !isGoing || series.homes.length < 2}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'endSeries', version })))}
        >
          Keep as evidence
        </Button>
      </Box>
    </>
  );
}

/** Homes read at a gauge, also without a link. */
function GaugeReadings() {
  const { memberId, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const version = useSavedVersion();
  const [text, setText] = useState('');
  const [add, { isLoading, isError }] = useAddMeasurementMutation();
  const read = text.trim() === '' ? undefined : readStarts(text);
  const homes = read && 'starts' in read && read.starts.length > 1 ? read.starts : undefined;
  return (
    <Box sx={{ mt: 1, display: 'flex', gap: 1, alignItems: 'start' }}>
      <TextField
        size="small"
        fullWidth
        label={`Gauge at home, one reading a homing, ${units.unit}`}
        value={text}
        error={isError || (read !== undefined && 'because' in read)}
        helperText={
          isError
            ? 'Not kept. Check the readings, and that the server responds.'
            : read && 'because' in read
              ? read.because
              : undefined
        }
        onChange={(event) => setText(event.target.value)}
      />
      <Button
        disabled={!homes || version === undefined || isLoading}
        onClick={() => {
          if (!homes || version === undefined) return;
          const own = homes.map((home) => units.own(home, '{u}'));
          void add({ id: memberId, version, measured: { kind: 'homing series', homes: own } })
            .unwrap()
            .then(
              () => setText(''),
              () => undefined,
            );
        }}
      >
        Keep
      </Button>
    </Box>
  );
}

const startsText = (starts: readonly number[]): string => starts.join(' ');

function Measured(props: {
  readonly homes: readonly number[];
  readonly of: number;
  readonly indexSpacing: number | undefined;
  readonly shown: (value: number) => number;
  readonly unit: string;
}) {
  const { homes, of, indexSpacing, shown, unit } = props;
  const name = (value: number) => `${formatNumber(shown(value), 3)} ${unit}`;
  const usual = [...homes].sort((a, b) => a - b)[Math.floor(homes.length / 2)] ?? 0;
  const jumps =
    indexSpacing === undefined ? 0 : homes.filter((home) => Math.abs(home - usual) > indexSpacing / 2).length;
  const scatter = homes.length > 1 ? scatterOf(homes) : undefined;
  return (
    <FactTable
      label="Repeatability, measured"
      rows={[
        { what: 'Homings', is: `${homes.length} of ${of}` },
        ...(scatter
          ? [
              { what: 'Standard deviation', is: name(scatter.standardDeviation), strong: true },
              { what: 'Range', is: name(scatter.range) },
            ]
          : []),
        { what: 'Each, from the first', is: homes.map((home) => formatNumber(shown(home), 3)).join('  ') },
        ...(jumps > 0
          ? [{ what: 'Jumped by whole motor turns', is: `${jumps} of ${homes.length}`, isWrong: true }]
          : []),
      ]}
    />
  );
}
