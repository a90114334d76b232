import { homingDigest, type MeasuredPositions } from '@kavrid/contract';
import type { MeasuredTarget } from '@kavrid/core/evidence';
import { positioningOf } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useAddMeasurementMutation, useEvidenceQuery } from '../store/api.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { readTargets } from './readTargets.ts';
import { useSavedVersion } from '../member/useSavedVersion.ts';

/** Positions read at a gauge, each target approached from both sides, and how well they repeat by ISO 230-2. */
export function PositioningPanel() {
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const version = useSavedVersion();
  const { data: kept = [] } = useEvidenceQuery(memberId);
  const [add, { isLoading, isError }] = useAddMeasurementMutation();
  const [text, setText] = useState('');
  const newest = kept.find((each): each is MeasuredPositions => each.kind === 'positioning');
  const read = text.trim() === '' ? undefined : readTargets(text);
  const targets =
    read && 'targets' in read ? inAxisUnits(read.targets, (value) => units.own(value, '{u}')) : newest?.payload.targets;
  const isStale = newest !== undefined && newest.digest !== homingDigest(document);
  return (
    <Panel title="Positions, measured (ISO 230-2)">
      <TextField
        multiline
        minRows={2}
        maxRows={6}
        fullWidth
        label={`Target, 5 readings towards plus, 5 towards minus, ${units.unit}`}
        placeholder="100  100.004 100.003 100.006 100.004 100.005  99.989 99.991 99.990 99.988 99.990"
        value={text}
        error={read !== undefined && 'because' in read}
        helperText={read && 'because' in read ? read.because : 'A line for each target. Read at a gauge on the load.'}
        onChange={(event) => setText(event.target.value)}
        slotProps={{ input: { style: { fontSize: 12 } } }}
      />
      <Box sx={{ my: 0.5, display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button
          variant="outlined"
          disabled={!read || !('targets' in read) || version === undefined || isLoading}
          onClick={() => {
            if (!targets || version === undefined) return;
            void add({ id: memberId, version, measured: { kind: 'positioning', targets: [...targets] } })
              .unwrap()
              .then(
                () => setText(''),
                () => undefined,
              );
          }}
        >
          Keep as evidence
        </Button>
        <Typography variant="body2" color={isError ? 'error' : 'text.secondary'} role="status">
          {isError
            ? 'Not kept. Check the readings, and that the server responds.'
            : read === undefined && newest
              ? `Kept ${new Date(newest.madeAt).toLocaleString()}${isStale ? `; the plan has changed since version ${newest.revision}` : `, version ${newest.revision}`}`
              : ''}
        </Typography>
      </Box>
      {targets && <Positioning targets={targets} shown={(value) => units.shown(value, '{u}')} unit={units.unit} />}
    </Panel>
  );
}

/** What was typed in shown units, in units of the axis. */
const inAxisUnits = (targets: readonly MeasuredTarget[], own: (value: number) => number): readonly MeasuredTarget[] =>
  targets.map(({ target, plus, minus }) => ({ target: own(target), plus: plus.map(own), minus: minus.map(own) }));

function Positioning(props: {
  readonly targets: readonly MeasuredTarget[];
  readonly shown: (value: number) => number;
  readonly unit: string;
}) {
  const { targets, shown, unit } = props;
  const figures = targets.map(({ target, plus, minus }) => ({
    target,
    ...positioningOf(
      plus.map((each) => each - target),
      minus.map((each) => each - target),
    ),
  }));
  const most = (of: (each: (typeof figures)[number]) => number) => Math.max(...figures.map(of));
  const number = (value: number) => formatNumber(shown(value), 3);
  const name = (value: number) => `${number(value)} ${unit}`;
  return (
    <>
      <MeasuredTable
        label="Positions, measured"
        heads={[`Target, ${unit}`, 'B', 's↑', 's↓', 'R↑', 'R↓', 'R']}
        rows={figures.map((each, k) => ({
          key: `${k} ${each.target}`,
          cells: [
            formatNumber(shown(each.target), 5),
            ...[
              each.reversal,
              each.deviationPlus,
              each.deviationMinus,
              each.repeatabilityPlus,
              each.repeatabilityMinus,
              each.bidirectional,
            ].map(number),
          ],
        }))}
      />
      <FactTable
        label="Positioning of the axis"
        rows={[
          { what: 'Repeatability towards plus, R↑', is: name(most((each) => each.repeatabilityPlus)) },
          { what: 'Repeatability towards minus, R↓', is: name(most((each) => each.repeatabilityMinus)) },
          { what: 'Repeatability both ways, R', is: name(most((each) => each.bidirectional)), strong: true },
          { what: 'Largest reversal, |B|', is: name(most((each) => Math.abs(each.reversal))) },
        ]}
      />
    </>
  );
}
