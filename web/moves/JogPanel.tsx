import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { act, beginJog, command, endJog } from '../store/liveLine.ts';
import { useSteady } from '../ui/useSteady.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { isReady } from '../member/isReady.ts';
import { TemporarySettings } from '../member/TemporarySettings.tsx';
import { BigReading } from '../ui/BigReading.tsx';
import { ConfirmBox } from '../ui/ConfirmBox.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Where the axis is, enabling it, and jogging it while a key or button is held. */
export function JogPanel() {
  const { memberId, document, computation, draft } = useAxis();
  const dispatch = useAppDispatch();
  const { live } = useAppSelector((state) => state.live);
  const units = useShownUnits(computation.input);
  const [stopProven, setStopProven] = useState(false);
  const [isPropped, setPropped] = useState(false);
  const mayAct = live?.holder !== 'another window' && !live?.isWatchOnly && live?.identity?.isConfirmed === true;
  const isSuspended = live?.isSuspended ?? false;
  const limit = live?.jogLimit;
  const tooFast = limit !== undefined && document.jogSpeed !== null && document.jogSpeed > limit.speed;
  const up = live?.link === 'up';
  const enabled = live?.deviceState === 'operation enabled';
  const show = (value: number | undefined, decimals: number) =>
    value === undefined ? '—' : units.shown(value, '{u}').toFixed(units.unit === 'in' ? decimals + 1 : decimals);
  return (
    <Panel
      title="First power and jog"
      aside={
        <Typography variant="body2" color="text.secondary">
          {up ? (live.deviceState ?? 'state unknown') : 'not connected'}
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
      <HoldNotice live={live} />
      {!enabled && isSuspended && (
        <ConfirmBox
          label="The load is suspended. It is propped, or its mechanics hold it without the motor."
          checked={isPropped}
          onChange={setPropped}
        />
      )}
      {!enabled && (
        <ConfirmBox
          label="The hardware stop of this machine has been tried and works. This screen is not a safety function."
          checked={stopProven}
          onChange={setStopProven}
        />
      )}
      <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
        {!up && live?.link !== 'connecting' && (
          <Button
            variant="contained"
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'connect', version })))}
          >
            Connect
          </Button>
        )}
        {live?.deviceState === 'fault' ? (
          <Button
            variant="contained"
            color="warning"
            disabled={!mayAct || live.isStopping}
            onClick={() => dispatch(command({ type: 'resetFault' }))}
          >
            Reset the fault
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!up || enabled || !stopProven || !mayAct || (isSuspended && !isPropped)}
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'enable', version, isPropped })))}
          >
            Enable
          </Button>
        )}
        <Button
          variant="outlined"
          disabled={!enabled || live.isWatchOnly}
          onClick={() => dispatch(command({ type: 'disable' }))}
        >
          Disable
        </Button>
      </Box>
      <TemporarySettings live={live} />
      <Box sx={{ mt: 1.5 }}>
        <NumberField label="Jog speed" path={['jogSpeed']} rule="speed" />
      </Box>
      {limit && tooFast && (
        <Typography role="alert" variant="body2" color="error">
          {`A jog is at most ${formatNumber(units.shown(limit.speed, '{u}/s'), 4)} ${units.unit}/s, limited by ${limit.by}.`}
        </Typography>
      )}
      <JogButtons
        enabled={isReady(live) || live?.activity === 'jogging'}
        version={draft.state.kind === 'saved' && live?.version === draft.version ? draft.version : undefined}
        speed={tooFast ? null : document.jogSpeed}
        plusEnd={document.plusEnd}
      />
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

/** Runs while it is held, by pointer or by the space bar; anything that takes the hold away ends the jog. */
function JogButtons({
  enabled,
  version,
  speed,
  plusEnd,
}: {
  readonly enabled: boolean;
  /** What is saved and on screen; undefined while an edit is on its way. */
  readonly version: number | undefined;
  readonly speed: number | null;
  readonly plusEnd: string;
}) {
  const dispatch = useAppDispatch();
  const held = useRef<number | undefined>(undefined);
  const end = useSteady(() => {
    if (held.current === undefined) return;
    dispatch(endJog(held.current));
    held.current = undefined;
  });
  useEffect(() => {
    window.addEventListener('blur', end);
    return () => {
      window.removeEventListener('blur', end);
      end();
    };
  }, [end]);
  const button = (direction: 1 | -1) => {
    const begin = () => {
      if (held.current !== undefined || speed === null || version === undefined) return;
      held.current = dispatch(beginJog({ direction, speed, version }));
    };
    return (
      <Button
        variant="outlined"
        disabled={!enabled || speed === null || version === undefined}
        sx={{ flex: 1, py: 0.75, userSelect: 'none', touchAction: 'none' }}
        onPointerDown={(event) => {
          // Only the first button of a mouse; a finger and a pen have no other.
          if (event.button !== 0 || !event.isPrimary) return end();
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
