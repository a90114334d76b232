import { formatNumber } from '@kavrid/core/quantity';
import { firstEnable, passingMoves, patternsOf, settlingTime, startsOnEdge } from '@kavrid/core/signal';
import { Alert, Box, Typography } from '@mui/material';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

/** What happens at the first enable, and on the way from one pattern to the next. */
export function FirstEnable() {
  const { typed, choice } = useChoiceCommand();
  const first = firstEnable(choice);
  const passing = passingMoves(choice);
  const actions = first.map((each) => (each === 'home' ? 'homes' : `starts “${each.name || each.kind}” by itself`));
  const moves = first.some((each) => each !== 'home');
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <DocumentChoice
        label="Pattern present at enable"
        value={patternsOf(choice.inputs.length).includes(typed.patternAtEnable) ? typed.patternAtEnable : ''}
        choices={patternsOf(choice.inputs.length).map((value) => ({ value, label: value }))}
        path={['command', 'patternAtEnable']}
      />
      <Alert severity={moves ? 'error' : first.length > 0 ? 'warning' : 'info'} sx={{ py: 0 }}>
        {first.length === 0
          ? 'At the first enable the axis does not move.'
          : `At the first enable the axis ${actions.join(', then ')}.`}
      </Alert>
      <FactTable
        label="Settling"
        rows={[
          {
            what: startsOnEdge(choice)
              ? 'The pattern stands before the start by'
              : 'From a change to the start, at most',
            is: `${formatNumber(1000 * settlingTime(choice), 4)} ms`,
            strong: true,
          },
        ]}
      />
      {passing.length > 0 ? (
        <Box component="ul" aria-label="Between patterns" sx={{ m: 0, pl: 2.25, fontSize: 12.5 }}>
          {passing.slice(0, 6).map(({ from, to, through }) => (
            <li key={`${from}${to}${through.pattern}`}>
              From {from} to {to} it may do {through.pattern}: {through.name || through.kind}
            </li>
          ))}
          {passing.length > 6 && <li>and {passing.length - 6} more</li>}
        </Box>
      ) : (
        <Typography variant="body2" color="text.secondary">
          While the inputs change one by one, no other move is selected.
        </Typography>
      )}
    </Box>
  );
}
