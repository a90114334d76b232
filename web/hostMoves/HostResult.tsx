import { isAxis } from '@kavrid/contract';
import { hasGear } from '@kavrid/core/chain';
import type { HostFigures, JudgedPick, SignalEnds } from '@kavrid/core/measure';
import { formatNumber } from '@kavrid/core/quantity';
import { Alert, Box, Link, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { HostMovesAnswer, HostMovesWork } from '../jobs/answerHostMoves.ts';
import { useJob } from '../jobs/useJob.ts';
import { useAxis } from '../member/useAxis.ts';
import { useRunQuery, useRunsQuery } from '../store/api.ts';
import { runName } from '../trace/runName.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { hostWay, type HostWay } from './hostWay.ts';

const startWorker = () => new Worker(new URL('../jobs/hostMoves.worker.ts', import.meta.url), { type: 'module' });

/** What the newest recorded moves of the controller show, or those of another recording. */
export function HostResult() {
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { data: runs = [] } = useRunsQuery(memberId);
  const [chosen, setChosen] = useState<string>();
  const recorded = runs.filter(({ kind }) => kind === 'controller move' || kind === 'imported');
  const newest = recorded.find(({ id }) => id === chosen) ?? recorded.find(({ kind }) => kind === 'controller move');
  const { data } = useRunQuery(newest?.id ?? '', { skip: newest === undefined });
  const run = data?.id === newest?.id ? data : undefined;
  const work = useMemo(
    (): HostMovesWork | undefined =>
      run && isAxis(run.axis) ? { axis: run.axis, run: { id: run.id, header: run.trace } } : undefined,
    [run],
  );
  const answer = useJob<HostMovesWork, HostMovesAnswer>(startWorker, work);
  const result = answer?.input === work ? answer?.result : undefined;
  // Picks are judged one by one, and a speed at its ends.
  const way = hostWay(run && isAxis(run.axis) ? run.axis : document);
  const judged = way === 'moves' ? result?.moves : undefined;
  return (
    <Panel
      title="Result of the controller’s moves"
      aside={
        newest && (
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', '& .MuiTextField-root': { width: 330 } }}>
            <ChoiceField
              label="Recording"
              value={newest.id}
              choices={recorded.map((each) => ({ value: each.id, label: runName(each) }))}
              onChange={setChosen}
            />
            <Link component={RouterLink} to={`../traces?run=${newest.id}`} sx={{ fontSize: 13 }}>
              Trace
            </Link>
          </Box>
        )
      }
    >
      {!newest && (
        <Typography color="text.secondary">
          {`Nothing has been recorded yet. ${proven(way, hasGear(computation.input.command))}`}
        </Typography>
      )}
      {newest && newest.end !== 'finished' && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          {`This recording ended early: ${newest.end}${newest.because ? ` (${newest.because})` : ''}.`}
        </Alert>
      )}
      {result?.picks && <Picks picks={result.picks} units={units} />}
      {newest && !result && <Typography color="text.secondary">Reading …</Typography>}
      {judged && 'because' in judged && <Typography>{`Not judged: ${judged.because}.`}</Typography>}
      {judged && !('because' in judged) && (
        <>
          {judged.faults.length === 0 ? (
            <Alert severity="success" sx={{ py: 0, mb: 0.5 }}>
              {newest?.kind === 'imported'
                ? 'Scale, direction and number of moves are as planned, in what was imported.'
                : newest?.end === 'finished'
                  ? 'Scale, direction and number of moves are as planned, measured at the drive.'
                  : 'What was recorded is as planned, but the recording is not whole.'}
            </Alert>
          ) : (
            judged.faults.map(({ cause, words }) => (
              <Alert key={cause} severity="error" sx={{ py: 0, mb: 0.5 }}>
                {words}
              </Alert>
            ))
          )}
          {judged.figures && <Figures figures={judged.figures} units={units} />}
        </>
      )}
      {result?.ends && <Ends ends={result.ends} units={units} />}
      {way === 'speed' && result && !result.ends && (
        <Typography>Not judged: neither the speed at both ends nor that of the full command is known.</Typography>
      )}
    </Panel>
  );
}

/** What the moves prove. */
function proven(way: HostWay, isByPulses: boolean): string {
  switch (way) {
    case 'picks':
      return 'The moves prove the inputs and what is stored for each of them.';
    case 'speed':
      return 'The speeds prove the scale of the signal, its zero and the direction all the way from the controller to the load.';
    case 'moves':
      return isByPulses
        ? 'The moves prove the steps per unit, the pulse form and the direction all the way from the controller to the load.'
        : 'The moves prove the scale and the direction all the way from the controller to the load.';
  }
}

/** Each pick by the inputs, with the position that it led to. */
function Picks({ picks, units }: { readonly picks: readonly JudgedPick[]; readonly units: ShownUnits }) {
  const wrong = picks.filter(({ verdict }) => verdict !== 'reached');
  const length = (value: number | undefined) => (value === undefined ? '—' : units.quantity(value, '{u}'));
  return (
    <>
      {wrong.length === 0 ? (
        <Alert severity="success" sx={{ py: 0, mb: 0.5 }}>
          Every picked move came to its target, measured at the drive.
        </Alert>
      ) : (
        <Alert severity="error" sx={{ py: 0, mb: 0.5 }}>
          {wrong.map(pickWords).join(' ')}
        </Alert>
      )}
      <MeasuredTable
        label="Picked moves"
        heads={['Inputs', 'Target', 'Reached', 'Result']}
        rows={picks.map((pick) => ({
          key: pick.pattern,
          cells: [pick.pattern, length(pick.target), length(pick.reached), verdictWords[pick.verdict]],
        }))}
      />
    </>
  );
}

const verdictWords: Readonly<Record<JudgedPick['verdict'], string>> = {
  reached: 'target reached',
  'other inputs': 'wrong pattern',
  'another move': 'target of another move',
  elsewhere: 'wrong position',
  'not seen': 'no move',
};

function pickWords({ pattern, verdict, instead = '' }: JudgedPick): string {
  switch (verdict) {
    case 'another move':
      return `${pattern} led to the target of ${instead}: inputs are exchanged, the moves are stored in another order, or they were not picked in the order of the list.`;
    case 'elsewhere':
      return `${pattern} led to another position than its target: the stored move differs from the plan.`;
    case 'other inputs':
      return `${pattern} arrived as ${instead}: inputs are exchanged, inverted or not connected, or the moves were picked in another order than that of the list.`;
    case 'not seen':
      return `${pattern} moved nothing: its inputs do not arrive, or it was not picked.`;
    case 'reached':
      return '';
  }
}

/** The speed command at both ends and at zero, through the real path. */
function Ends({ ends, units }: { readonly ends: SignalEnds; readonly units: ShownUnits }) {
  const { isOneWay, wanted, plus, minus, zero, ratio, faults } = ends;
  const speed = (value: number | undefined) =>
    value === undefined ? 'not held' : units.quantity(Number(value.toPrecision(4)), '{u}/s');
  const off = (value: number | undefined, from: number) =>
    value === undefined ? '—' : `${formatNumber(Number(((100 * (value - from)) / wanted).toFixed(2)), 3)} %`;
  return (
    <Box sx={{ mt: 1 }}>
      {faults.map(({ cause, words }) => (
        <Alert key={cause} severity={cause === 'not held' ? 'info' : 'error'} sx={{ py: 0, mb: 0.5 }}>
          {words}
        </Alert>
      ))}
      <MeasuredTable
        label="Speed command at both ends and zero"
        heads={['Speed command', 'Wanted', 'Measured', 'Off, of the wanted']}
        rows={[
          { key: 'plus', cells: ['Towards plus, sent first', speed(wanted), speed(plus), off(plus, wanted)] },
          { key: 'zero', cells: [isOneWay ? 'Zero, sent last' : 'Zero, between', speed(0), speed(zero), off(zero, 0)] },
          ...(isOneWay
            ? []
            : [
                {
                  key: 'minus',
                  cells: ['Towards minus, sent last', speed(-wanted), speed(minus), off(minus, -wanted)],
                },
              ]),
          {
            key: 'ratio',
            cells: ['Measured over wanted', '1', ratio === undefined ? '—' : formatNumber(ratio, 4), ''],
          },
        ]}
      />
      <Typography variant="body2" color="text.secondary">
        Each held for 0.25 s at least. Where no speed is entered, the full command is meant.
      </Typography>
    </Box>
  );
}

function Figures({ figures, units }: { readonly figures: HostFigures; readonly units: ShownUnits }) {
  const { moves, demanded, ratio, pulsesWanted, pulsesReceived, pulsesDrifted, drift, peakSpeed } = figures;
  const { travelError, restingError } = figures;
  const length = (value: number | undefined) => (value === undefined ? 'never at rest' : units.quantity(value, '{u}'));
  return (
    <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: '1fr 1fr' }}>
      <FactTable
        label="What the drive received"
        rows={[
          { what: 'Moves', is: String(moves) },
          { what: 'Demanded length of a move', is: length(demanded), strong: true },
          { what: 'Demanded over commanded', is: formatNumber(ratio, 7) },
          ...(pulsesWanted === undefined || pulsesReceived === undefined
            ? []
            : [
                { what: 'Pulses of a move, by the plan', is: formatNumber(pulsesWanted, 9) },
                { what: 'Pulses of a move, received', is: formatNumber(Math.round(10 * pulsesReceived) / 10, 9) },
              ]),
        ]}
      />
      <FactTable
        label="What the axis did"
        rows={[
          { what: 'Highest speed demanded', is: units.quantity(peakSpeed, '{u}/s') },
          { what: 'Demand after the last move against the start', is: length(drift) },
          ...(pulsesDrifted === undefined
            ? []
            : [{ what: 'Pulses lost or doubled over all moves', is: formatNumber(Math.round(pulsesDrifted), 9) }]),
          { what: 'Travel error, farthest from where it was sent', is: length(travelError), strong: true },
          { what: 'Farthest from its demand at rest', is: length(restingError) },
        ]}
      />
    </Box>
  );
}
