import type { SpindleLive } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useState } from 'react';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { NumberInput } from '../ui/NumberInput.tsx';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { BigReading } from '../ui/BigReading.tsx';
import { ConfirmBox } from '../ui/ConfirmBox.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useSpindle } from '../member/useSpindle.ts';

/** Hz of output from which a motor has to turn. */
const turningHertz = 2;

/** The drive puts out its frequency, and the shaft stands. */
const isStalled = ({ hertz = 0, motorSpeed }: SpindleLive): boolean =>
  Math.abs(hertz) > turningHertz && motorSpeed !== undefined && Math.abs(motorSpeed) < 10;

/** The spindle as it runs, started and stopped from here while this window is there. */
export function SpindleRunPanel() {
  const { memberId, computation } = useSpindle();
  const live = useAppSelector((state) => state.live.spindle);
  const dispatch = useAppDispatch();
  const [stopProven, setStopProven] = useState(false);
  const [typed, setTyped] = useState<number | null>();
  const speed = typed === undefined ? (valueOf(computation.results.lowestToolSpeed) ?? null) : typed;
  const [reverse, setReverse] = useState(false);
  const up = live?.link === 'up';
  const runs = live?.deviceState === 'operation enabled';
  const busy = live !== undefined && live.activity !== 'idle' && live.activity !== 'running';
  const ask = (messageOf: Parameters<typeof act>[1]) => void dispatch(act(memberId, messageOf));
  const mayAct = up && live.holder !== 'another window' && !live.isWatchOnly && live.identity?.isConfirmed === true;
  const show = (value: number | undefined, digits: number) => (value === undefined ? '—' : formatNumber(value, digits));
  const standing = !up
    ? live?.link === 'connecting'
      ? 'connecting'
      : 'not connected'
    : live.isStopping
      ? 'stopping'
      : isStalled(live)
        ? 'output on, not turning'
        : live.atSpeed
          ? 'at speed'
          : (live.deviceState ?? '');
  return (
    <Panel
      title="At the drive"
      aside={
        <Typography role="status" variant="body2" color="text.secondary">
          {standing}
        </Typography>
      }
    >
      <BigReading
        label="Speed of the tool"
        value={live?.toolSpeed === undefined ? '—' : String(Math.round(live.toolSpeed))}
        unit="rpm of the tool"
      />
      <Box
        component="dl"
        sx={{
          display: 'grid',
          gridTemplateColumns: 'auto 1fr auto 1fr',
          columnGap: 1,
          m: 0,
          my: 0.5,
          fontSize: 13,
          '& dt': { color: 'text.secondary' },
          '& dd': { m: 0, textAlign: 'right', fontFamily: numberFace, fontSize: 12.5 },
        }}
      >
        <dt>output</dt>
        <dd>{show(live?.hertz, 4)} Hz</dd>
        <dt>current</dt>
        <dd>{show(live?.current, 3)} A</dd>
        <dt>DC bus</dt>
        <dd>{show(live?.busVolts, 3)} V</dd>
        <dt>torque</dt>
        <dd>{show(live?.torque, 3)} N·m</dd>
      </Box>
      <DriveNews live={live} />
      <HoldNotice live={live} />
      {!runs && (
        <ConfirmBox
          label="The hardware stop has been tried and works, and the guard is closed. This screen is not a safety function."
          checked={stopProven}
          onChange={setStopProven}
        />
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1, alignItems: 'center', mt: 0.75 }}>
        <NumberInput label="Run speed" rule="toolSpeed" value={speed} onValue={setTyped} />
        <FormControlLabel
          control={<Checkbox size="small" checked={reverse} onChange={(_, checked) => setReverse(checked)} />}
          label="reverse"
          sx={{ m: 0, '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
        />
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, mt: 1 }}>
        {!up && (
          <Button
            variant="contained"
            disabled={live?.link === 'connecting'}
            onClick={() => ask((version) => ({ type: 'connect', version }))}
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
            Reset the trip
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!mayAct || busy || speed === null || !(runs || stopProven)}
            onClick={() => speed !== null && ask((version) => ({ type: 'runSpindle', version, speed, reverse }))}
          >
            {runs ? 'Set the speed' : 'Run'}
          </Button>
        )}
        <Button variant="outlined" disabled={!runs} onClick={() => dispatch(command({ type: 'stopSpindle' }))}>
          Stop on its ramp
        </Button>
        <Button
          variant="outlined"
          disabled={!mayAct || busy || runs || !stopProven}
          onClick={() => ask((version) => ({ type: 'runTest', version }))}
        >
          Make the run test
        </Button>
      </Box>
      {live?.progress && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          {live.progress}
        </Typography>
      )}
    </Panel>
  );
}
