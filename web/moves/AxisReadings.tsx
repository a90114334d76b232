import type { LiveState } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useAxisLive } from '../member/useLive.ts';
import { BigReading } from '../ui/BigReading.tsx';
import { numberFace } from '../ui/theme.ts';
import { useShownUnits } from '../ui/units.ts';

/** Where the axis is and how it moves; each reading follows its own value. */
export function AxisReadings() {
  return (
    <>
      <Position />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto auto', columnGap: 1, fontSize: 13, my: 0.5 }}>
        <LengthReading label="Speed" of={(live) => live.speed} per="/s" decimals={1} />
        <LengthReading label="Following error" of={(live) => live.followingError} per="" decimals={3} />
        <Torque />
      </Box>
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

type Of<T> = (live: LiveState) => T;

/** A length as it is shown, with so many decimals in mm. */
function useLength(of: Of<number | undefined>, decimals: number): { readonly text: string; readonly unit: string } {
  const units = useShownUnits(useAxis().computation.input);
  const text = useAxisLive((live) => {
    const value = live && of(live);
    return value === undefined ? '—' : units.shown(value, '{u}').toFixed(units.unit === 'in' ? decimals + 1 : decimals);
  });
  return { text, unit: units.unit };
}

function Position() {
  const { text, unit } = useLength((live) => live.position, 3);
  return <BigReading label="Position" value={text} unit={unit} testId="position" />;
}

function LengthReading(props: {
  readonly label: string;
  readonly of: Of<number | undefined>;
  readonly per: string;
  readonly decimals: number;
}) {
  const { text, unit } = useLength(props.of, props.decimals);
  return <Reading label={props.label} value={text} unit={`${unit}${props.per}`} />;
}

function Torque() {
  const text = useAxisLive((live) => (live?.torque === undefined ? '—' : formatNumber(live.torque, 3)));
  return <Reading label="Torque" value={text} unit="%" />;
}

function Reading({ label, value, unit }: { readonly label: string; readonly value: string; readonly unit: string }) {
  return (
    <>
      <span>{label}</span>
      <Box component="span" sx={{ fontFamily: numberFace, textAlign: 'right' }}>
        {value}
      </Box>
      <Box component="span" sx={{ color: 'text.secondary', minWidth: 34 }}>
        {unit}
      </Box>
    </>
  );
}

function Lamp({
  of,
  alarming,
  children,
}: {
  readonly of: Of<boolean>;
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
