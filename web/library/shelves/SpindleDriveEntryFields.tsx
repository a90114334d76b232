import { spindleDriveKinds } from '@kavrid/contract';
import { FormControlLabel, Switch } from '@mui/material';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';
import { choicesOf } from '../rowValues.ts';

const milliseconds = { unit: 'ms', of: 1000 };

/** A spindle drive’s plate, bus and limits. */
export function SpindleDriveEntryFields({ entry, change, inputs }: ShelfFields<'spindle drive'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        <ChoiceField
          label="Kind"
          value={entry.kind}
          choices={choicesOf(spindleDriveKinds)}
          onChange={(kind) => change(['kind'], kind)}
        />
        {number('Rated current', 'ratedCurrent', 'current')}
        {number('Overload, times', 'overload', 'overload')}
        {number('Supply from', 'supplyLeast', 'plateVolts')}
        {number('Supply to', 'supplyMost', 'plateVolts')}
        <ChoiceField
          label="Phases in"
          value={entry.phases}
          choices={[{ value: '' as const, label: 'not known' }, ...choicesOf(['1', '3', '1 or 3'] as const)]}
          onChange={(phases) => change(['phases'], phases)}
        />
        {number('Highest frequency', 'highestHertz', 'hertz')}
        {number('Frequency step', 'resolution', 'hertz')}
        {number('DC bus, capacitance', 'capacitance', 'capacitance')}
        {number('Trips at', 'tripVolts', 'plateVolts')}
        {number('Undervoltage trip level', 'leastVolts', 'plateVolts')}
        {number('Chopper threshold', 'chopperVolts', 'plateVolts')}
        {number('Brake resistor at least', 'leastOhms', 'resistance')}
        {number('Idle power', 'idlePower', 'powerOrNone')}
        {number('Discharge time', 'dischargeTime', 'minutes')}
        {number('Answers within', 'answerDelay', 'rampTime', milliseconds)}
      </Grid>
      {(
        [
          ['hasChopper', 'Brake chopper fitted'],
          ['oneBased', 'Drive manual numbers registers from 1'],
        ] as const
      ).map(([field, label]) => (
        <FormControlLabel
          key={field}
          control={<Switch size="small" checked={entry[field]} onChange={(_, checked) => change([field], checked)} />}
          label={label}
        />
      ))}
      {notes}
    </>
  );
}
