import { scatterOf } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { isReady } from '../member/isReady.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { readStarts, randomStarts } from './seriesStarts.ts';

/** Homing again and again from starts that are shown, measured by counts that homing does not reset. */
export function HomingSeriesPanel({ indexSpacing }: { readonly indexSpacing: number }) {
  const { memberId, document, computation } = useAxis();
  const dispatch = useAppDispatch();
  const units = useShownUnits(computation.input);
  const { minusSoftLimit: minus, plusSoftLimit: plus } = document.settings;
  const { positionAtHome, by } = document.homing;
  const [text, setText] = useState(() => startsText(randomStarts(minus, plus, positionAtHome ?? 0)));
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const progress = useAppSelector(({ live: { live } }) => (live?.activity === 'homing series' ? live.progress : ''));
  const seriesText = useAppSelector(({ live: { live } }) =>
    live?.kind === 'axis' && live.homingSeries ? JSON.stringify(live.homingSeries) : undefined,
  );
  const starts = readStarts(text);
  const isUsable = 'starts' in starts;
  const series = seriesText === undefined ? undefined : (JSON.parse(seriesText) as { of: number; homes: number[] });
  if (by === 'controller')
    return (
      <Panel title="Repeatability, measured">
        <Typography variant="body2">
          The controller homes this axis: run it there several times from different places, and measure each time at the
          same mark with a gauge.
        </Typography>
      </Panel>
    );
  return (
    <Panel title="Repeatability, measured">
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
        <Typography variant="body2" role="status">
          {progress}
        </Typography>
      </Box>
      {series && series.homes.length > 0 && (
        <Measured
          homes={series.homes}
          of={series.of}
          indexSpacing={indexSpacing}
          shown={(value) => units.shown(value, '{u}')}
          unit={units.unit}
        />
      )}
    </Panel>
  );
}

const startsText = (starts: readonly number[]): string => starts.join(' ');

function Measured(props: {
  readonly homes: readonly number[];
  readonly of: number;
  readonly indexSpacing: number;
  readonly shown: (value: number) => number;
  readonly unit: string;
}) {
  const { homes, of, indexSpacing, shown, unit } = props;
  const name = (value: number) => `${formatNumber(shown(value), 3)} ${unit}`;
  const usual = [...homes].sort((a, b) => a - b)[Math.floor(homes.length / 2)] ?? 0;
  const jumps = homes.filter((home) => Math.abs(home - usual) > indexSpacing / 2).length;
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
