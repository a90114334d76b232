import { slowJog } from '@kavrid/core/procedure';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { JogButtons } from '../member/JogButtons.tsx';
import { isReady } from '../member/isReady.ts';
import { mayActOn, useAxisLive } from '../member/useLive.ts';
import { TemporarySettings } from '../member/TemporarySettings.tsx';
import { AxisReadings } from './AxisReadings.tsx';
import { SpeedLever } from './SpeedLever.tsx';
import { StepButtons } from './StepButtons.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { ConfirmBox } from '../ui/ConfirmBox.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Ways to jog, with what the buttons ask for. */
const ways = {
  buttons: { label: 'buttons', by: undefined, help: '' },
  slow: { label: 'buttons, slow', by: 'slow', help: 'At a tenth of the jog speed' },
  fenced: {
    label: 'buttons, fenced',
    by: 'fenced',
    help: 'Between the ends of the test move, with the torque limit of “Press and hold”; it stops quietly in front of them.',
  },
  steps: { label: 'steps', by: undefined, help: 'A click is a step: it goes on when the button is released.' },
  lever: { label: 'speed lever', by: undefined, help: '' },
} as const;
type JogBy = keyof typeof ways;

/** Where the axis is, enabling it, and jogging it while a key or button is held. */
export function JogPanel() {
  const { memberId, document, computation, draft } = useAxis();
  const dispatch = useAppDispatch();
  const units = useShownUnits(computation.input);
  const [stopProven, setStopProven] = useState(false);
  const [isPropped, setPropped] = useState(false);
  const { link, deviceState, mayAct, isSuspended, limitSpeed, limitBy, isStopping, isWatchOnly, mayJog, version } =
    useAxisLive((live) => ({
      link: live?.link,
      deviceState: live?.deviceState,
      mayAct: mayActOn(live),
      isSuspended: live?.isSuspended ?? false,
      limitSpeed: live?.jogLimit?.speed,
      limitBy: live?.jogLimit?.by,
      isStopping: live?.isStopping ?? false,
      isWatchOnly: live?.isWatchOnly ?? false,
      mayJog: isReady(live) || live?.activity === 'jogging',
      version: live?.version,
    }));
  const tooFast = limitSpeed !== undefined && document.jogSpeed !== null && document.jogSpeed > limitSpeed;
  const [by, setBy] = useState<JogBy>('buttons');
  const jogSpeed = by === 'slow' && document.jogSpeed !== null ? slowJog(document.jogSpeed) : document.jogSpeed;
  const saved = draft.state.kind === 'saved' && version === draft.version ? draft.version : undefined;
  const up = link === 'up';
  const enabled = deviceState === 'operation enabled';
  return (
    <Panel
      title="Enable and jog"
      aside={
        <Typography variant="body2" color="text.secondary">
          {up ? (deviceState ?? 'state unknown') : 'not connected'}
        </Typography>
      }
    >
      <AxisReadings />
      <DriveNews />
      <HoldNotice />
      {!enabled && isSuspended && (
        <ConfirmBox
          label="The load is suspended. It has been propped, or its mechanics hold it without the motor."
          checked={isPropped}
          onChange={setPropped}
        />
      )}
      {!enabled && (
        <ConfirmBox
          label="The hardware stop of this machine has been tested and works. This screen is not a safety function."
          checked={stopProven}
          onChange={setStopProven}
        />
      )}
      <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
        {!up && link !== 'connecting' && (
          <Button
            variant="contained"
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'connect', version })))}
          >
            Connect
          </Button>
        )}
        {deviceState === 'fault' ? (
          <Button
            variant="contained"
            color="warning"
            disabled={!mayAct || isStopping}
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
          disabled={!enabled || isWatchOnly}
          onClick={() => dispatch(command({ type: 'disable' }))}
        >
          Disable
        </Button>
      </Box>
      <TemporarySettings />
      <Box sx={{ mt: 1.5 }}>
        <NumberField label="Jog speed" path={['jogSpeed']} rule="speed" />
      </Box>
      {tooFast && (
        <Typography role="alert" variant="body2" color="error">
          {`A jog is at most ${formatNumber(units.shown(limitSpeed, '{u}/s'), 4)} ${units.unit}/s, limited by ${limitBy}.`}
        </Typography>
      )}
      <Box sx={{ mt: 1.5 }}>
        <ChoiceField
          label="Jog by"
          value={by}
          choices={(Object.keys(ways) as JogBy[]).map((value) => ({ value, label: ways[value].label }))}
          onChange={setBy}
          help={
            by === 'slow' && jogSpeed !== null
              ? `${ways.slow.help}: ${units.quantity(jogSpeed, '{u}/s')}.`
              : ways[by].help
          }
        />
      </Box>
      {by !== 'steps' && by !== 'lever' && (
        <JogButtons
          enabled={mayJog}
          version={saved}
          speed={tooFast ? null : jogSpeed}
          plusEnd={document.plusEnd}
          by={ways[by].by}
        />
      )}
      {by === 'lever' && <SpeedLever enabled={mayJog} version={saved} limit={limitSpeed} units={units} />}
      {by === 'steps' && <StepButtons />}
    </Panel>
  );
}
