import { Box } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { LiveReadings } from '../member/LiveReadings.tsx';
import { useAxisLive } from '../member/useLive.ts';
import { BigReading } from '../ui/BigReading.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Where the axis is, and which of its inputs are active. */
export function LivePosition() {
  const units = useShownUnits(useAxis().computation.input);
  const position = useAxisLive((live) =>
    live?.position === undefined ? '—' : units.shown(live.position, '{u}').toFixed(units.unit === 'in' ? 4 : 3),
  );
  const active = useAxisLive((live) =>
    (live?.inputs ?? [])
      .filter(({ isActive }) => isActive)
      .map(({ label }) => label)
      .join(', '),
  );
  const state = useAxisLive((live) => live?.deviceState ?? 'state unknown');
  return (
    <>
      <BigReading label="Position" value={position} unit={units.unit} testId="position" />
      <LiveReadings />
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{`Drive: ${state}. Active inputs: ${active || 'none'}.`}</Box>
    </>
  );
}
