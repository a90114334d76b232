import type { RunSummary } from '@kavrid/contract';
import { Box, MenuItem, TextField } from '@mui/material';
import { predictionId } from '../jobs/tracePrediction.ts';
import { runName } from './runName.ts';
import { mostRuns } from './useTraces.ts';

/** The run that is looked at, and those that are compared with it. */
export function RunChoice(props: {
  readonly runs: readonly RunSummary[];
  readonly ids: readonly string[];
  readonly choose: (ids: readonly string[]) => void;
  /** What is predicted where no run is chosen. */
  readonly prediction: string;
}) {
  const { runs, ids, choose, prediction } = props;
  const [main = predictionId, ...others] = ids;
  const rest = runs.filter(({ id }) => id !== main);
  const shown = others.filter((id) => rest.some((run) => run.id === id));
  return (
    <Box sx={{ display: 'flex', gap: 1 }}>
      <TextField
        select
        label="Trace"
        value={runs.some(({ id }) => id === main) ? main : predictionId}
        onChange={({ target: { value } }) =>
          choose(value === predictionId ? [] : [value, ...others.filter((id) => id !== value)])
        }
        sx={{ width: 250 }}
        slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Trace' } as object } }}
      >
        <MenuItem value={predictionId} dense>
          {`${prediction.charAt(0).toUpperCase()}${prediction.slice(1)}`}
        </MenuItem>
        {runs.map((run) => (
          <MenuItem key={run.id} value={run.id} dense>
            {`${runName(run)}${run.end === 'finished' ? '' : ` · ${run.end}`}`}
          </MenuItem>
        ))}
      </TextField>
      {main !== predictionId && rest.length > 0 && (
        <TextField
          select
          label="Compare with"
          value={shown}
          onChange={({ target: { value } }) => choose([main, ...(value as unknown as string[]).slice(-(mostRuns - 1))])}
          sx={{ width: 170 }}
          slotProps={{
            select: { multiple: true, SelectDisplayProps: { 'aria-label': 'Compare with' } as object },
          }}
        >
          {rest.map((run) => (
            <MenuItem key={run.id} value={run.id} dense>
              {runName(run)}
            </MenuItem>
          ))}
        </TextField>
      )}
    </Box>
  );
}
