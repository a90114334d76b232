import { motorKinds } from '@kavrid/contract';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';
import { choicesOf } from '../rowValues.ts';

/** A motor’s plate. */
export function MotorEntryFields({ entry, change, inputs }: ShelfFields<'motor'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        {entry.form === 'linear' ? (
          <>
            {number('Rated force', 'ratedForce', 'force')}
            {number('Peak force', 'peakForce', 'force')}
            {number('Highest speed', 'topSpeed', 'linearSpeed')}
            {number('Moving mass', 'movingMass', 'mass')}
            {text('Counts per mm', 'countsPerMillimetre')}
          </>
        ) : (
          <>
            <ChoiceField
              label="Kind"
              value={entry.kind}
              choices={choicesOf(motorKinds)}
              onChange={(kind) => change(['kind'], kind)}
            />
            {number('Rated torque', 'ratedTorque', 'torque')}
            {number('Peak torque', 'peakTorque', 'torque')}
            {number('Rated speed', 'ratedSpeed', 'motorSpeed')}
            {number('Highest speed', 'topSpeed', 'motorSpeed')}
            {number('Rotor inertia', 'rotorInertia', 'rotorInertia')}
            {number('Rated current', 'ratedCurrent', 'current')}
            {number('Voltage constant, 1000 rpm', 'voltageConstant', 'voltageConstant')}
            {number('Winding resistance', 'windingResistance', 'resistance')}
            <ChoiceField
              label="Encoder known by"
              value={entry.encoder.kind}
              choices={[
                { value: 'bits', label: 'bits a revolution' },
                { value: 'lines', label: 'lines (four counts each)' },
              ]}
              onChange={(kind) => change(['encoder'], kind === 'lines' ? { kind, lines: '' } : { kind, bits: '' })}
            />
            {entry.encoder.kind === 'bits'
              ? text('Encoder bits', 'encoder/bits')
              : text('Encoder lines', 'encoder/lines')}
          </>
        )}
      </Grid>
      {notes}
    </>
  );
}
