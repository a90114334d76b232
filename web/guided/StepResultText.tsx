import type { ShownStep } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography } from '@mui/material';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { useShownUnits } from '../ui/units.ts';
import { verdictOf } from './verdictOf.ts';

const known = { 'read back': 'read from the device', observed: 'observed by the user', neither: '' } as const;

/** How a step has come out, when, and where it is known from. */
export function StepResultText({ result }: { readonly result: NonNullable<ShownStep['result']> }) {
  const units = useShownUnits(wordingOf(useMember()));
  const { words, colour } = verdictOf({ result, first: [] }, false);
  const made = new Date(result.madeAt).toLocaleString();
  const rows = result.values.map(({ label, value, unit }) => {
    const isAxis = unit.startsWith('{u}');
    return {
      what: label,
      is: `${formatNumber(isAxis ? units.shown(value, unit) : value, 4)} ${isAxis ? units.name(unit) : unit}`,
    };
  });
  return (
    <Box role="status" sx={{ my: 0.5 }}>
      <Typography variant="body2">
        <Box component="strong" sx={{ color: colour }}>
          {words.charAt(0).toUpperCase() + words.slice(1)}
        </Box>
        {`. ${result.words}`}
      </Typography>
      {rows.length > 0 && (
        <Box sx={{ maxWidth: 400 }}>
          <FactTable label="Measured" rows={rows} />
        </Box>
      )}
      <Typography variant="body2" color="text.secondary">
        {[known[result.known], made, `revision ${result.revision}`, result.staleBecause].filter(Boolean).join(' · ')}
      </Typography>
    </Box>
  );
}
