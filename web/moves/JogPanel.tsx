import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useAxis } from '../axis/axisContext.ts';
import { command } from '../store/live.ts';
import { useAppSelector } from '../store/store.ts';
import { numberFace } from '../theme.ts';
import { DriveNews } from '../member/DriveNews.tsx';
import { BigReading } from '../ui/BigReading.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../ui/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Where the axis is, enabling it, and jogging it while a key or button is held. */
export function JogPanel() {
  const { document, computation } = useAxis();
  const { live } = useAppSelector((state) => state.live);
  const units = useShownUnits(computation.input);
  const [stopProven, setStopProven] = useState(false);
  const up = live?.link === 'up';
  const enabled = live?.deviceState === 'operation enabled';
  const show = (value: number | undefined, decimals: number) =>
    value === undefined ? '—' : units.shown(value, '{u}').toFixed(units.unit === 'in' ? decimals + 1 : decimals);
  return (
    <Panel
      title="First power and jog"
      aside={
        <Typography variant="body2" color={up ? 'success.main' : 'text.secondary'}>
          {up ? (live.heldElsewhere ? 'held by another window' : (live.deviceState ?? '')) : 'not connected'}
        </Typography>
      }
    >
      <BigReading label="Position" value={show(live?.position, 3)} unit={units.unit} testId="position" />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto auto', columnGap: 1, fontSize: 13, my: 0.5 }}>
        <Reading label="Speed" value={show(live?.speed, 1)} unit={`${units.unit}/s`} />
        <Reading label="Following error" value={show(live?.followingError, 3)} unit={units.unit} />
        <Reading label="Torque" value={live?.torque === undefined ? '—' : formatNumber(live.torque, 3)} unit="%" />
      </Box>
      <Box sx={{ display: 'flex', gap: 0.5, mb: 1 }}>
        <Lamp on={live?.minusLimit ?? false} alarming>
          minus limit
        </Lamp>
        <Lamp on={live?.homed ?? false}>homed</Lamp>
        <Lamp on={live?.plusLimit ?? false} alarming>
          plus limit
        </Lamp>
      </Box>
      <DriveNews live={live} />
      {!enabled && (
        <FormControlLabel
          control={<Checkbox size="small" checked={stopProven} onChange={(_, checked) => setStopProven(checked)} />}
          label="The hardware stop of this machine has been tried and works. This screen is not a safety function."
          sx={{
            alignItems: 'flex-start',
            '& .MuiFormControlLabel-label': { fontSize: 12.5, lineHeight: 1.25, pt: 0.8 },
          }}
        />
      )}
      <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
        {!up && live?.link !== 'connecting' && (
          <Button variant="contained" onClick={() => command({ type: 'connect' })}>
            Connect
          </Button>
        )}
        {live?.deviceState === 'fault' ? (
          <Button variant="contained" color="warning" onClick={() => command({ type: 'resetFault' })}>
            Reset the fault
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!up || enabled || !stopProven}
            onClick={() => command({ type: 'enable' })}
          >
            Enable
          </Button>
        )}
        <Button variant="outlined" disabled={!enabled} onClick={() => command({ type: 'disable' })}>
          Disable
        </Button>
        <Button disabled={!up || live.temporary.length === 0} onClick={() => command({ type: 'restore' })}>
          Restore
        </Button>
      </Box>
      <NumberField label="Jog speed" path={['jogSpeed']} rule="speed" />
      <JogButtons enabled={enabled} speed={document.jogSpeed} plusEnd={document.plusEnd} />
    </Panel>
  );
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
  on,
  alarming,
  children,
}: {
  readonly on: boolean;
  readonly alarming?: boolean;
  readonly children: ReactNode;
}) {
  const colour = alarming ? 'warning.main' : 'success.main';
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

/** Runs while it is held, by pointer or by the space bar; anything that takes the hold away ends the jog. */
function JogButtons({
  enabled,
  speed,
  plusEnd,
}: {
  readonly enabled: boolean;
  readonly speed: number | null;
  readonly plusEnd: string;
}) {
  const held = useRef(false);
  const end = () => {
    if (!held.current) return;
    held.current = false;
    command({ type: 'jogEnd' });
  };
  useEffect(() => {
    window.addEventListener('blur', end);
    return () => {
      window.removeEventListener('blur', end);
      end();
    };
  }, []);
  const button = (direction: 1 | -1) => {
    const begin = () => {
      if (held.current || speed === null) return;
      held.current = command({ type: 'jog', direction, speed });
    };
    return (
      <Button
        variant="outlined"
        disabled={!enabled || speed === null}
        sx={{ flex: 1, py: 0.75, userSelect: 'none', touchAction: 'none' }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          begin();
        }}
        onPointerUp={end}
        onPointerCancel={end}
        onLostPointerCapture={end}
        onKeyDown={(event) => {
          if (event.key === ' ' && !event.repeat) begin();
        }}
        onKeyUp={end}
        onBlur={end}
        onContextMenu={(event) => event.preventDefault()}
      >
        {direction === 1 ? 'Jog plus' : 'Jog minus'}
      </Button>
    );
  };
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        {button(-1)}
        {button(1)}
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.25 }}>
        Held by pointer or space bar. {plusEnd ? `Plus is ${plusEnd}.` : ''}
      </Typography>
    </>
  );
}
