import { commandForms, ratioForms, valueAt } from '@kavrid/contract';
import { FormControlLabel, Switch } from '@mui/material';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';
import { choicesOf } from '../rowValues.ts';
import { Several } from './Several.tsx';

const microseconds = { unit: 'µs', of: 1e6 };
const milliamperes = { unit: 'mA', of: 1000 };

/** A drive’s gear, inputs and supply. */
export function DriveEntryFields({ entry, change, inputs }: ShelfFields<'drive'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        <ChoiceField
          label="Ratio format"
          value={entry.ratioForm}
          choices={choicesOf(ratioForms)}
          onChange={(form) => change(['ratioForm'], form)}
        />
        {text('Largest N', 'numeratorMax')}
        {text('Largest D', 'denominatorMax')}
        {text('Smallest N/D', 'ratioMin')}
        {text('Largest N/D', 'ratioMax')}
        {number('Differential input', 'differentialRate', 'pulseRate')}
        {number('Single-ended input', 'singleEndedRate', 'pulseRate')}
        {number('Minimum pulse width', 'minimumPulseWidth', 'pulseWidth', microseconds)}
        {number('Direction set-up time', 'directionSetUp', 'pulseWidth', microseconds)}
        <ChoiceField
          label="Pulse input circuit"
          value={entry.pulseInput.kind}
          choices={[
            { value: 'optocoupler', label: 'optocoupler' },
            { value: 'receiver', label: 'differential receiver' },
          ]}
          onChange={(kind) => change(['pulseInput', 'kind'], kind)}
        />
        {entry.pulseInput.kind === 'optocoupler' && (
          <>
            {number('Optocoupler forward voltage', 'pulseInput/forwardVoltage', 'voltage')}
            {number('Internal series resistor', 'pulseInput/resistance', 'resistance')}
            {number('Minimum input current', 'pulseInput/minimumCurrent', 'current', milliamperes)}
            {number('Maximum input current', 'pulseInput/maximumCurrent', 'current', milliamperes)}
          </>
        )}
        {number('Position counter, bits', 'counterBits', 'counterBits')}
        {number('Switchable ratios', 'gearSets', 'gearSets')}
        <ChoiceField
          label="Supply"
          value={entry.supply.kind}
          choices={choicesOf(['AC', 'DC'] as const)}
          onChange={(kind) => change(['supply', 'kind'], kind)}
        />
        <ChoiceField
          label="Phases"
          value={entry.supply.phases}
          choices={[{ value: '' as const, label: 'none' }, ...choicesOf(['1', '3', '1 or 3'] as const)]}
          onChange={(phases) => change(['supply', 'phases'], phases)}
        />
        {number('Supply from', 'supply/minimum', 'voltage')}
        {number('Supply to', 'supply/maximum', 'voltage')}
        {number('Analog input, bits', 'signalInput/analogBits', 'converterBits')}
        {number('Analog input resistance', 'signalInput/inputResistance', 'potResistance')}
        {number('Reference voltage', 'signalInput/referenceVoltage', 'referenceVoltage')}
        {number('Reference current limit', 'signalInput/referenceCurrent', 'current', milliamperes)}
        {number('PWM capture clock', 'signalInput/captureClock', 'pulseRate')}
        {number('PWM raw full scale', 'signalInput/rawFullScale', 'rawFullScale')}
        {number('Stored moves', 'signalInput/storedMoves', 'storedMoves')}
        {number('Encoder output', 'signalInput/encoderOutputRate', 'pulseRate')}
      </Grid>
      {(
        [
          [['ratioInverted'], 'Manual defines counts = pulses × D / N'],
          [['supply', 'reversePolaritySafe'], 'Reverse-polarity protected'],
        ] as const
      ).map(([path, label]) => (
        <FormControlLabel
          key={label}
          control={
            <Switch
              size="small"
              checked={valueAt(entry, path) === true}
              onChange={(_, checked) => change(path, checked)}
            />
          }
          label={label}
        />
      ))}
      <Several
        label="Command types accepted"
        all={commandForms}
        chosen={entry.commands}
        onChange={(commands) => change(['commands'], commands)}
      />
      {notes}
    </>
  );
}
