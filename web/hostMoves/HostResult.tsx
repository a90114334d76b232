import { isAxis } from '@kavrid/contract';
import type { HostFigures } from '@kavrid/core/measure';
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
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

const startWorker = () => new Worker(new URL('../jobs/hostMoves.worker.ts', import.meta.url), { type: 'module' });

/** What the newest recorded moves of the controller show, or those of another recording. */
export function HostResult() {
  const { memberId, computation } = useAxis();
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
  const judged = answer?.input === work ? answer?.result : undefined;
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
          Nothing has been recorded yet. The moves prove the steps per unit, the pulse form and the direction all the
          way from the controller to the load.
        </Typography>
      )}
      {newest && newest.end !== 'finished' && (
        <Alert severity="warning" sx={{ py: 0, mb: 0.5 }}>
          {`This recording ended early: ${newest.end}${newest.because ? ` (${newest.because})` : ''}.`}
        </Alert>
      )}
      {newest && !judged && <Typography color="text.secondary">Reading …</Typography>}
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
    </Panel>
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
