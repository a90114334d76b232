import type { BenchControl, BenchMessage, BenchState } from '@kavrid/contract';
import type { AxisUnit } from '@kavrid/core/chain';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, FormControlLabel, Switch } from '@mui/material';
import { useState, type ComponentType } from 'react';
import { isSpindleOnScreen, useMember } from '../member/memberContext.ts';
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
        {bench.switches.some(({ group }) => group === 'hand') && (
          <Panel title="Hand at the machine">
            <Switches bench={bench} group="hand" />
          </Panel>
        )}
        {bench.host && <HostPanel host={bench.host} />}
      </Box>
      <Panel title="Faults" style={windowHigh}>
        <Hint>
          Of the linked device. Each is as if it had happened at the machine. It stays until it is switched off here, or
          the bench restarts.
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

/** What can be done at a control, by its kind; a reading and a state stand in the table below. */
const controlFields: Readonly<Partial<Record<BenchControl['kind'], ComponentType<ControlProps>>>> = {
  switch: SwitchControl,
  step: StepControl,
  start: StartControl,
  value: ValueControl,
  button: ButtonControl,
  stop: StopControl,
};

interface ControlProps {
  readonly control: BenchControl;
  readonly axisUnit: AxisUnit;
  readonly set: (value: number) => void;
}

const wholeRow = { gridColumn: '1 / -1' } as const;

function SwitchControl({ control, set }: ControlProps) {
  return (
    <FormControlLabel
      control={<Switch size="small" checked={control.value === 1} onChange={(_, isOn) => set(isOn ? 1 : 0)} />}
      label={control.label}
      sx={{ m: 0, '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
}

function StepControl({ control, axisUnit, set }: ControlProps) {
  const [by, setBy] = useState<number | null>(10);
  return (
    <Box
      sx={{ ...wholeRow, display: 'grid', gridTemplateColumns: '1fr auto auto', gap: 0.75, alignItems: 'end', pt: 0.5 }}
    >
      <NumberInput label={control.label} rule="distance" axisUnit={axisUnit} value={by} onValue={setBy} />
      <Button variant="outlined" disabled={by === null} onClick={() => by !== null && set(by)}>
        Plus
      </Button>
      <Button variant="outlined" disabled={by === null} onClick={() => by !== null && set(-by)}>
        Minus
      </Button>
    </Box>
  );
}

/** A number with which a motion starts. */
function StartControl({ control, set }: ControlProps) {
  const [value, setValue] = useState<number | null>(1);
  return (
    <Box sx={{ ...wholeRow, display: 'grid', gridTemplateColumns: '1fr auto', gap: 0.75, alignItems: 'end', pt: 0.5 }}>
      <NumberInput label={control.label} rule="anyValue" value={value} onValue={setValue} />
      <Button variant="outlined" disabled={value === null} onClick={() => value !== null && set(value)}>
        Start
      </Button>
    </Box>
  );
}

function ValueControl({ control, set }: ControlProps) {
  const [value, setValue] = useState<number | null>(control.value);
  const { label, unit } = control;
  return (
    <Box sx={{ ...wholeRow, display: 'grid', gridTemplateColumns: '1fr auto', gap: 0.75, alignItems: 'end', pt: 0.5 }}>
      <NumberInput
        label={`${label}, now ${formatNumber(control.value, 6)}${unit ? ` ${unit}` : ''}`}
        rule={unit === '%' ? 'duty' : 'anyValue'}
        value={value}
        onValue={setValue}
      />
      <Button variant="outlined" disabled={value === null} onClick={() => value !== null && set(value)}>
        Set
      </Button>
    </Box>
  );
}

function ButtonControl({ control, set }: ControlProps) {
  return (
    <Button variant="outlined" onClick={() => set(1)} sx={{ justifySelf: 'start' }}>
      {control.label}
    </Button>
  );
}

function StopControl({ control, set }: ControlProps) {
  return (
    <Button color="error" onClick={() => set(1)} sx={{ justifySelf: 'start' }}>
      {control.label}
    </Button>
  );
}

/** The simulated controller that commands the drive over its terminals. */
export function HostPanel({ host }: { readonly host: NonNullable<BenchState['host']> }) {
  const order = useOrder();
  const member = useMember();
  const axisUnit = isSpindleOnScreen(member) ? 'rev' : member.computation.input.axisUnit;
  const rows = host.controls.flatMap(({ label, kind, value, unit }) =>
    kind === 'reading'
      ? [{ what: label, is: `${formatNumber(value, 9)} ${unit}`.trim() }]
      : kind === 'state'
        ? [{ what: label, is: value === 1 ? 'yes' : 'no' }]
        : [],
  );
  return (
    <Panel title="Simulated controller">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, mb: 0.5, alignItems: 'end' }}>
        {host.controls.map((control) => {
          const Field = controlFields[control.kind];
          return (
            Field && (
              <Field
                key={control.id}
                control={control}
                axisUnit={axisUnit}
                set={(value) => order({ type: 'setHost', id: control.id, value })}
              />
            )
          );
        })}
      </Box>
      <FactTable label="Simulated controller" rows={rows} />
      {host.inputs.length > 0 && (
        <FactTable
          label="Inputs of the controller"
          rows={host.inputs.map(({ label, level, isActive }) => ({
            what: `Input: ${label}`,
            is: `${isActive ? 'active' : 'not active'}, ${level ? 'current' : 'no current'}`,
          }))}
        />
      )}
      <Hint>
        The drive follows this controller only while its command source is set to it, and it is enabled from here.
      </Hint>
    </Panel>
  );
}
