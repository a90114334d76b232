import { commandFormOf, commandFrom, newCommand, type CommandDocument, type EntryOf } from '@kavrid/contract';
import { conversion, divide, exact, exactToText, isZero, parseQuantity } from '@kavrid/core/quantity';
import { hasGear } from '@kavrid/core/chain';
import { valueOf } from '@kavrid/core/sheet';
import { Alert, TextField } from '@mui/material';
import { skipToken } from '@reduxjs/toolkit/query';
import { useState } from 'react';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { useReadEntryQuery } from '../../store/api.ts';
import { numberFace } from '../../ui/theme.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { useShownUnits } from '../../ui/units.ts';
import { commandChoices, CommandControllerFields } from '../commandFaces.tsx';
import { FromLibrary } from './FromLibrary.tsx';
import { Between, Hint, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';

/** What the controller can send, and what is wanted of the axis. */
export function ControllerFields() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { command } = document;
  const isPulses = hasGear(computation.input.command);
  const controller = useEntry('controller');
  const drive = useEntry('drive');
  return (
    <>
      <FromLibrary shelf="controller" />
      <ChoiceField
        field="/command/kind"
        label="Command signal"
        value={command.kind}
        onChange={(kind: CommandDocument['kind']) => {
          edit(['command'], commandFrom(newCommand(kind, command), { controller, drive }));
        }}
        choices={commandChoices}
      />
      <DriveTakes command={command} />
      <CommandControllerFields command={command} />
      <Toggle label="Direction inverted at the command" path={['command', 'inverted']} value={command.inverted} />
      <Between>Requirements of the axis</Between>
      <Pair>
        <ExactField
          label="Wanted resolution"
          path={['wanted', 'resolution']}
          rule="resolution"
          help={isPulses ? 'a pulse' : 'a step'}
        />
        {isPulses && <StepsWanted />}
      </Pair>
      <NumberField label="Wanted speed" path={['wanted', 'speed']} rule="speed" />
      {computation.input.axisUnit === 'mm' && <Hint>Units can be entered: 10 um, 0.0004 in, 60 m/min.</Hint>}
    </>
  );
}

/** The library entry of an end, where the axis has its data from one. */
function useEntry<K extends 'controller' | 'drive'>(shelf: K): EntryOf[K] | undefined {
  const { document } = useAxis();
  const { data } = useReadEntryQuery(document[shelf].entry?.id ?? skipToken);
  return data?.item.shelf === shelf ? (data.item.entry as EntryOf[K]) : undefined;
}

/** Says so where the library knows that the drive does not take this command. */
function DriveTakes({ command }: { readonly command: CommandDocument }) {
  const takes = useEntry('drive')?.commands ?? [];
  if (takes.length === 0 || takes.includes(commandFormOf(command))) return null;
  return (
    <Alert severity="warning" sx={{ py: 0 }}>
      The library does not list {commandFormOf(command)} for this drive.
    </Alert>
  );
}

/** The wanted resolution from its other side: how many pulses make a unit. */
function StepsWanted() {
  const { computation } = useAxis();
  const edit = useEdit();
  const [typed, setTyped] = useState<string>();
  const { axisUnit, wantedResolution } = computation.input;
  const { unit } = useShownUnits(computation.input);
  const resolution = valueOf(wantedResolution);
  // One unit shown, in the unit of the axis.
  const whole = unit === axisUnit ? exact(1) : conversion(unit, axisUnit);
  const rule = { unit: '', above: exact(0) };
  const parsed = typed === undefined ? undefined : parseQuantity(typed, rule);
  return (
    <TextField
      label={`Steps per ${unit}`}
      value={typed ?? (resolution && !isZero(resolution) ? exactToText(divide(whole, resolution)) : '')}
      error={parsed?.kind === 'error'}
      helperText={parsed?.kind === 'error' ? parsed.message : 'sets the resolution'}
      onChange={({ target: { value } }) => {
        setTyped(value);
        const read = parseQuantity(value, rule);
        if (read.kind === 'value')
          edit(['wanted', 'resolution'], `${exactToText(divide(exact(1), read.value))} ${unit}`);
      }}
      onBlur={() => setTyped(undefined)}
      sx={{ '& input': { fontFamily: numberFace } }}
    />
  );
}
