import type { LiveState } from '@kavrid/contract';
import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { LiveReadings } from '../member/LiveReadings.tsx';
import { useAxisLive } from '../member/useLive.ts';
import { BigReading } from '../ui/BigReading.tsx';
import { useShownUnits } from '../ui/units.ts';
import { SignalMeaning } from './SignalMeaning.tsx';

/** Where the axis is and how it moves; each reading follows its own value. */
export function AxisReadings() {
  return (
    <>
      <Position />
      <LiveReadings />
      <SignalMeaning />
      <Box sx={{ display: 'flex', gap: 0.5, mb: 1 }}>
        <Lamp of={(live) => live.minusLimit} alarming>
          minus limit
        </Lamp>
        <Lamp of={(live) => live.homed}>homed</Lamp>
        <Lamp of={(live) => live.plusLimit} alarming>
          plus limit
        </Lamp>
      </Box>
    </>
  );
}

function Position() {
  const units = useShownUnits(useAxis().computation.input);
  const text = useAxisLive((live) =>
    live?.position === undefined ? '—' : units.shown(live.position, '{u}').toFixed(units.unit === 'in' ? 4 : 3),
  );
  return <BigReading label="Position" value={text} unit={units.unit} testId="position" />;
}

function Lamp({
  of,
  alarming,
  children,
}: {
  readonly of: (live: LiveState) => boolean;
  readonly alarming?: boolean;
  readonly children: ReactNode;
}) {
  const on = useAxisLive((live) => live !== undefined && of(live));
  const colour = alarming ? 'warning.main' : 'primary.main';
  return (
    <Box
      role="status"
      aria-label={`${String(children)}: ${on ? 'on' : 'off'}`}
      sx={{
        flex: 1,
        textAlign: 'center',
        fontSize: 12,
        border: 1,
        borderColor: on ? colour : 'divider',
        bgcolor: on ? colour : 'transparent',
        color: on ? 'background.paper' : 'text.secondary',
      }}
    >
      {children}
    </Box>
  );
}
