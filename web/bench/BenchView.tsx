import type { BenchMessage, BenchState } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, FormControlLabel, Switch } from '@mui/material';
import { useState } from 'react';
import { command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { Hint } from '../ui/fieldParts.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { useBenchState } from './useBench.ts';

/** The simulated devices beside the linked drive: a hand at the machine, its controller, and what can be wrong. */
export function BenchView() {
  const bench = useBenchState();
  if (!bench)
    return (
      <Panel title="Bench">
        <Hint>
          No bench answers. This page is for the simulated devices that ship with Kavrid: connect to one of them.
        </Hint>
      </Panel>
    );
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '330px minmax(0, 1fr)' },
        alignItems: 'start',
      }}
    >
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Panel title="Hand at the machine">
          <Switches bench={bench} group="hand" />
        </Panel>
        <HostPanel host={bench.host} />
      </Box>
      <Panel title="Faults" style={windowHigh}>
        <Hint>
          Each is as if it had happened at the machine. It stays until it is switched off here, or the bench restarts.
        </Hint>
        <Switches bench={bench} group="fault" />
      </Panel>
    </Box>
  );
}

function useOrder(): (order: BenchMessage) => void {
  const dispatch = useAppDispatch();
  return (order) => void dispatch(command(order));
}

function Switches({ bench, group }: { readonly bench: BenchState; readonly group: string }) {
  const order = useOrder();
  const shown = bench.switches.filter((each) => each.group === group);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: group === 'fault' ? 'repeat(auto-fill, minmax(290px, 1fr))' : '1fr',
        columnGap: 1,
      }}
    >
      {shown.map(({ id, label, isOn }) => (
        <FormControlLabel
          key={id}
          control={
            <Switch
              size="small"
              color={group === 'fault' ? 'error' : 'primary'}
              checked={isOn}
              onChange={(_, checked) => order({ type: 'setBench', id, isOn: checked })}
            />
          }
          label={label}
          sx={{ m: 0, '& .MuiFormControlLabel-label': { fontSize: 13, fontWeight: isOn ? 600 : 400 } }}
        />
      ))}
    </Box>
  );
}

/** The simulated controller that sends pulses to the drive. */
function HostPanel({ host }: { readonly host: BenchState['host'] }) {
  const order = useOrder();
  const [by, setBy] = useState<number | null>(50);
  const move = (sense: 1 | -1) => by !== null && order({ type: 'moveHost', by: sense * by });
  return (
    <Panel title="Simulated controller">
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={host.servoOn}
            onChange={(_, isOn) => order({ type: 'setBench', id: 'servoOn', isOn })}
          />
        }
        label="Servo on"
        sx={{ m: 0, '& .MuiFormControlLabel-label': { fontSize: 13 } }}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto auto auto', gap: 0.75, alignItems: 'end', my: 1 }}>
        <NumberInput label="Move by" rule="distance" value={by} onValue={setBy} />
        <Button variant="outlined" disabled={host.isMoving || by === null} onClick={() => move(1)}>
          Plus
        </Button>
        <Button variant="outlined" disabled={host.isMoving || by === null} onClick={() => move(-1)}>
          Minus
        </Button>
        <Button color="error" onClick={() => order({ type: 'stopHost' })}>
          Stop
        </Button>
      </Box>
      <FactTable
        label="Simulated controller"
        rows={[
          { what: 'Commanded position', is: `${formatNumber(host.position, 9)} steps` },
          { what: 'Pulses sent, plus less minus', is: formatNumber(host.sent, 9) },
          { what: 'Moves', is: host.isMoving ? 'yes' : 'no' },
        ]}
      />
      <Hint>The drive follows pulses only while its command source is the pulse input, and servo on is there.</Hint>
    </Panel>
  );
}
