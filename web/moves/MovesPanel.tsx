import type { MoveOrder } from '@kavrid/core/procedure';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Tab, Tabs, Typography } from '@mui/material';
import { useState } from 'react';
import { isReady } from '../member/isReady.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { TestMoveFields, TestMoveButtons } from './TestMoveFields.tsx';

const tabs = {
  test: 'Back and forth',
  position: 'To a position',
  faster: 'Faster and faster',
  response: 'Step and ramp',
  press: 'Press and hold',
} as const;
type TabName = keyof typeof tabs;

/** The moves that the drive makes by itself, a tab each: their values, and what starts them. */
export function MovesPanel() {
  const [tab, setTab] = useState<TabName>('test');
  const progress = useAppSelector((state) => state.live.live?.progress);
  return (
    <Panel
      title="Moves by the drive"
      aside={
        <Typography role="status" variant="body2" color="primary">
          {progress}
        </Typography>
      }
    >
      <Tabs value={tab} onChange={(_, next: TabName) => setTab(next)} sx={{ minHeight: 32, mb: 1, mt: -0.5 }}>
        {(Object.keys(tabs) as TabName[]).map((each) => (
          <Tab key={each} value={each} label={tabs[each]} sx={{ minHeight: 32, py: 0, textTransform: 'none' }} />
        ))}
      </Tabs>
      {tab === 'test' && <TestMove />}
      {tab === 'position' && <Positions />}
      {tab === 'faster' && <Faster />}
      {tab === 'response' && <Responses />}
      {tab === 'press' && <Press />}
    </Panel>
  );
}

function TestMove() {
  return (
    <>
      <TestMoveFields />
      <TestMoveButtons />
    </>
  );
}

/** Whether a move may be started now, and what starts one. */
function useOrder() {
  const { memberId } = useAxis();
  const dispatch = useAppDispatch();
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const isHomed = useAppSelector(({ live: { live } }) => live?.homed === true);
  const order = (made: MoveOrder) =>
    void dispatch(act(memberId, (version) => ({ type: 'makeMove', version, order: made })));
  return { mayMove: ready && isHomed, ready, isHomed, order };
}

const fields = (columns: number) => ({ display: 'grid', gridTemplateColumns: `repeat(${columns}, 1fr)`, gap: 0.75 });

function Note({ children }: { readonly children: string }) {
  return (
    <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }}>
      {children}
    </Typography>
  );
}

const row = { display: 'flex', gap: 1, alignItems: 'center', mt: 1 } as const;

function Positions() {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { mayMove, order } = useOrder();
  const limit = useAppSelector(({ live: { live } }) => (live?.kind === 'axis' ? live.jogLimit?.speed : undefined));
  const speed = Math.min(document.jogSpeed ?? Infinity, limit ?? Infinity);
  return (
    <>
      <Box sx={fields(2)}>
        <NumberField label="Position" path={['moves', 'target']} rule="position" />
        <NumberField label="Distance, signed" path={['moves', 'by']} rule="position" />
      </Box>
      <Box sx={row}>
        <Note>
          {Number.isFinite(speed)
            ? `At the jog speed, ${formatNumber(units.shown(speed, '{u}/s'), 4)} ${units.name('{u}/s')}, within the soft limits. The move is recorded.`
            : 'At the jog speed, within the soft limits. The move is recorded.'}
        </Note>
        <Button
          variant="contained"
          disabled={!mayMove || document.moves.target === null}
          onClick={() => order({ kind: 'to' })}
        >
          Go to the position
        </Button>
        <Button
          variant="contained"
          disabled={!mayMove || document.moves.by === null}
          onClick={() => order({ kind: 'by' })}
        >
          Go the distance
        </Button>
      </Box>
    </>
  );
}

function Faster() {
  const { mayMove, order } = useOrder();
  return (
    <>
      <Box sx={fields(5)}>
        <NumberField label="First speed" path={['moves', 'faster', 'from']} rule="speed" />
        <NumberField label="Step" path={['moves', 'faster', 'step']} rule="speed" />
        <NumberField label="Last speed" path={['moves', 'faster', 'to']} rule="speed" />
        <NumberField label="Following error limit" path={['moves', 'faster', 'followingError']} rule="distance" />
        <NumberField label="Torque limit of the series" path={['moves', 'faster', 'torque']} rule="percent" />
      </Box>
      <Box sx={row}>
        <Note>
          The path, acceleration and dwell of the test move, back and forth at each speed. It ends after the speed at
          which a limit was passed. An empty limit is not judged.
        </Note>
        <Button variant="contained" disabled={!mayMove} onClick={() => order({ kind: 'faster' })}>
          Run the series
        </Button>
      </Box>
    </>
  );
}

function Responses() {
  const { mayMove, order } = useOrder();
  return (
    <>
      <Box sx={fields(2)}>
        <NumberField label="Speed" path={['moves', 'response', 'speed']} rule="speed" />
        <NumberField label="Time at speed" path={['moves', 'response', 'seconds']} rule="dwell" />
      </Box>
      <Box sx={row}>
        <Note>
          A step demands the speed within a millisecond: keep it small. A ramp takes the jog acceleration. Both are
          recorded at twice the rate of a test move.
        </Note>
        {(['step', 'ramp'] as const).flatMap((shape) =>
          ([-1, 1] as const).map((direction) => (
            <Button
              key={`${shape} ${direction}`}
              variant="outlined"
              disabled={!mayMove}
              onClick={() => order({ kind: 'response', shape, direction })}
            >
              {`${shape === 'step' ? 'Step' : 'Ramp'} ${direction > 0 ? 'plus' : 'minus'}`}
            </Button>
          )),
        )}
      </Box>
    </>
  );
}

function Press() {
  const { mayMove, order } = useOrder();
  return (
    <>
      <Box sx={fields(4)}>
        <NumberField label="Speed" path={['moves', 'press', 'speed']} rule="speed" />
        <NumberField label="Torque" path={['moves', 'press', 'torque']} rule="percent" />
        <NumberField label="Travel at most" path={['moves', 'press', 'travel']} rule="distance" />
        <NumberField label="Time held" path={['moves', 'press', 'seconds']} rule="dwell" />
      </Box>
      <Box sx={row}>
        <Note>
          The torque limit is lowered first and put back when the motor is off. It moves until something holds it, holds
          with that torque, and goes back; without contact it is stopped after the travel.
        </Note>
        {([-1, 1] as const).map((direction) => (
          <Button
            key={direction}
            variant="outlined"
            disabled={!mayMove}
            onClick={() => order({ kind: 'press', direction })}
          >
            {direction > 0 ? 'Press plus' : 'Press minus'}
          </Button>
        ))}
      </Box>
    </>
  );
}
