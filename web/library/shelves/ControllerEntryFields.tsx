import { controllerKinds } from '@kavrid/contract';
import { outputKinds } from '@kavrid/core/signal';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';
import { choicesOf } from '../rowValues.ts';
import { Several } from './Several.tsx';

const milliamperes = { unit: 'mA', of: 1000 };

/** What a controller’s outputs and inputs can do. */
export function ControllerEntryFields({ entry, change, inputs }: ShelfFields<'controller'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        <ChoiceField
          label="Kind"
          value={entry.kind}
          choices={choicesOf(controllerKinds)}
          onChange={(kind) => change(['kind'], kind)}
        />
        {number('Highest pulse rate', 'maximumPulseRate', 'pulseRate')}
        {number('Output voltage', 'outputVoltage', 'voltage')}
        {number('Voltage drop of an output', 'outputDrop', 'voltage')}
        {number('Current an output carries', 'outputCurrent', 'current', milliamperes)}
        {number('Analog outputs', 'analogOutputs', 'outputs')}
        {number('Analog converter bits', 'analogBits', 'converterBits')}
        {number('PWM bits', 'pwmBits', 'converterBits')}
        {number('PWM frequency', 'pwmFrequency', 'pulseRate')}
        {number('Encoder input rate', 'encoderInputRate', 'pulseRate')}
      </Grid>
      <Several
        label="Pulse outputs"
        all={outputKinds}
        chosen={entry.outputs}
        onChange={(outputs) => change(['outputs'], outputs)}
      />
      {notes}
    </>
  );
}
