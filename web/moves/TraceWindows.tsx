import { addressOf } from '@kavrid/contract';
import { Box, Button, Link, useTheme } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { MoveJobResult } from '../jobs/moveJob.ts';

/** Which part of a trace is drawn, what its lines are, and the way to its table. */
export function TraceWindows({
  result,
  window,
  choose,
  runId,
}: {
  /** The run that is shown; undefined: a prediction. */
  readonly runId: string | undefined;
  readonly result: MoveJobResult;
  readonly window: readonly [number, number] | undefined;
  readonly choose: (window: readonly [number, number] | undefined) => void;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
      <Legend isMeasured={result.measured !== undefined} />
      {runId !== undefined && (
        <Box sx={{ display: 'flex', gap: 1, ml: 2, fontSize: 12.5 }}>
          <Link href={`/api${addressOf('readTraceCsv', { id: runId })}`} download>
            trace as CSV
          </Link>
          <Link component={RouterLink} to={`../traces?run=${runId}`}>
            Open in Traces
          </Link>
        </Box>
      )}
      <Box sx={{ flex: 1 }} />
      <Button variant={window ? 'text' : 'outlined'} onClick={() => choose(undefined)} sx={{ py: 0 }}>
        whole
      </Button>
      {result.moves.slice(0, 6).map(([start, end], index) => {
        const wide = [Math.max(result.whole[0], start - 0.05), end + 0.2] as const;
        const isNow = window?.[0] === wide[0];
        return (
          <Button key={index} variant={isNow ? 'outlined' : 'text'} onClick={() => choose(wide)} sx={{ py: 0 }}>
            move {index + 1}
          </Button>
        );
      })}
    </Box>
  );
}

function Legend({ isMeasured }: { readonly isMeasured: boolean }) {
  const theme = useTheme();
  const entry = (colour: string, dash: string | undefined, words: string) => (
    <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center', fontSize: 12.5 }}>
      <svg width="28" height="6" aria-hidden>
        <path d="M0 3h28" stroke={colour} strokeWidth="2" strokeDasharray={dash} />
      </svg>
      {words}
    </Box>
  );
  return (
    <Box sx={{ display: 'flex', gap: 2 }}>
      {isMeasured && entry(theme.palette.primary.main, undefined, 'measured')}
      {entry(theme.palette.warning.main, isMeasured ? '5 3' : undefined, 'predicted')}
    </Box>
  );
}
