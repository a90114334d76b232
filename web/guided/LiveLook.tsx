import { Box } from '@mui/material';
import { isSpindleOnScreen, useMember, wordingOf } from '../member/memberContext.ts';
import { LiveReadings } from '../member/LiveReadings.tsx';
import { useAxisLive, useLinkLive } from '../member/useLive.ts';
import { BigReading } from '../ui/BigReading.tsx';
import { useShownUnits } from '../ui/units.ts';

/** What the drive shows now, and which of its inputs are active. */
export function LiveLook() {
  const isAxis = !isSpindleOnScreen(useMember());
  const active = useLinkLive((live) =>
    (live?.inputs ?? [])
      .filter(({ isActive }) => isActive)
      .map(({ label }) => label)
      .join(', '),
  );
  const state = useLinkLive((live) => live?.deviceState ?? 'state unknown');
  return (
    <>
      {isAxis && <Position />}
      <LiveReadings />
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {`Drive: ${state}.${isAxis ? ` Active inputs: ${active || 'none'}.` : ''}`}
      </Box>
    </>
  );
}

function Position() {
  const units = useShownUnits(wordingOf(useMember()));
  const position = useAxisLive((live) =>
    live?.position === undefined ? '—' : units.shown(live.position, '{u}').toFixed(units.unit === 'in' ? 4 : 3),
  );
  return <BigReading label="Position" value={position} unit={units.unit} testId="position" />;
}
