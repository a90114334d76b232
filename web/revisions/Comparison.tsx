import { changesBetween, fieldValueWords, fieldWords, pointerOf, resultChanges } from '@kavrid/contract';
import { Typography } from '@mui/material';
import { useMemo } from 'react';
import { useRevisionQuery } from '../store/api.ts';
import { Differences } from '../ui/Differences.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { Panel } from '../ui/Panel.tsx';

/** Two revisions side by side: the fields that differ, and what follows from them. */
export function Comparison({
  memberId,
  from,
  to,
}: {
  readonly memberId: string;
  readonly from: number;
  readonly to: number;
}) {
  const older = useRevisionQuery({ id: memberId, version: from });
  const newer = useRevisionQuery({ id: memberId, version: to });
  const [before, after] = [older.currentData?.document, newer.currentData?.document];
  const changes = useMemo(() => (before && after ? changesBetween(before, after) : []), [before, after]);
  const results = useMemo(() => (before && after ? resultChanges(before, after) : []), [before, after]);
  const error = older.error ?? newer.error;
  return (
    <Panel title={from === to ? `Version ${to}` : `From version ${from} to ${to}`}>
      {error && <Typography color="error">{reasonOf(error)}</Typography>}
      {before && after && changes.length === 0 && (
        <Typography color="text.secondary">
          {from === to
            ? 'Choose two revisions to compare. The differences appear here.'
            : 'These two revisions are identical.'}
        </Typography>
      )}
      {changes.length > 0 && (
        <Differences
          title="Fields"
          rows={changes.map(({ path, before: was, after: is }) => ({
            key: pointerOf(path),
            label: fieldWords(path),
            was: fieldValueWords(was),
            is: fieldValueWords(is),
          }))}
        />
      )}
      {results.length > 0 && (
        <Differences
          title="Computed results"
          rows={results.map(({ symbol, label, unit, before: was, after: is }) => ({
            key: symbol,
            label: unit ? `${label}, ${unit}` : label,
            was,
            is,
          }))}
        />
      )}
    </Panel>
  );
}
