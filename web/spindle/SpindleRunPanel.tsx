import type { SpindleLive } from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useState } from 'react';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { NumberInput } from '../ui/NumberInput.tsx';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { BigReading } from '../ui/BigReading.tsx';
import { ConfirmBox } from '../ui/ConfirmBox.tsx';
import { Panel } from '../ui/Panel.tsx';
import { LiveReadings } from '../member/LiveReadings.tsx';
import { mayActOn, useSpindleLive } from '../member/useLive.ts';
import { useSpindle } from '../member/useSpindle.ts';

/** Hz of output from which a motor has to turn. */
const turningHertz = 2;

/** The drive puts out its frequency, and the shaft stands. */
const isStalled = ({
  readings: {
    values: { hertz = 0, motorSpeed },
  },
}: SpindleLive): boolean => Math.abs(hertz) > turningHertz && motorSpeed !== undefined && Math.abs(motorSpeed) < 10;

/** How the spindle stands, in a word. */
function standingOf(live: SpindleLive | undefined): string {
  if (live?.link !== 'up') return live?.link === 'connecting' ? 'connecting' : 'not connected';
  if (live.isStopping) return 'stopping';
  if (isStalled(live)) return 'output on, not turning';
  return live.atSpeed ? 'at speed' : (live.deviceState ?? '');
}

/** The spindle as it runs, started and stopped from here while this window is there. */
export function SpindleRunPanel() {
  const { memberId, computation } = useSpindle();
  const { link, deviceState, isStopping, mayAct, busy, standing, progress } = useSpindleLive((live) => ({
    link: live?.link,
    deviceState: live?.deviceState,
    isStopping: live?.isStopping ?? false,
    mayAct: live?.link === 'up' && mayActOn(live),
    busy: live !== undefined && live.activity !== 'idle' && live.activity !== 'running',
    standing: standingOf(live),
    progress: live?.progress,
  }));
  const dispatch = useAppDispatch();
  const [stopProven, setStopProven] = useState(false);
  const [typed, setTyped] = useState<number | null>();
  const speed = typed === undefined ? (valueOf(computation.results.lowestToolSpeed) ?? null) : typed;
  const [reverse, setReverse] = useState(false);
  const up = link === 'up';
  const runs = deviceState === 'operation enabled';
  const ask = (messageOf: Parameters<typeof act>[1]) => void dispatch(act(memberId, messageOf));
  return (
    <Panel
      title="At the drive"
      aside={
        <Typography role="status" variant="body2" color="text.secondary">
          {standing}
        </Typography>
      }
    >
      <SpindleReadings />
      <DriveNews />
      <HoldNotice />
      {!runs && (
        <ConfirmBox
          label="The hardware stop has been tested and works, and the guard is closed. This screen is not a safety function."
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
            disabled={link === 'connecting'}
            onClick={() => ask((version) => ({ type: 'connect', version }))}
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
          Ramp down
        </Button>
        <Button
          variant="outlined"
          disabled={!mayAct || busy || runs || !stopProven}
          onClick={() => ask((version) => ({ type: 'runTest', version }))}
        >
          Start the run test
        </Button>
      </Box>
      {progress && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          {progress}
        </Typography>
      )}
    </Panel>
  );
}

/** What the drive measures; each reading follows its own value. */
function SpindleReadings() {
  return (
    <>
      <ToolSpeed />
      <LiveReadings />
    </>
  );
}

function ToolSpeed() {
  const text = useSpindleLive((live) => (live?.toolSpeed === undefined ? '—' : String(Math.round(live.toolSpeed))));
  return <BigReading label="Tool speed" value={text} unit="rpm of the tool" />;
}
