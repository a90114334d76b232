import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';
import { choicesOf } from '../rowValues.ts';

/** A cable and its circuit. */
export function CableEntryFields({ entry, change, inputs }: ShelfFields<'cable'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        {number('Resistor in each line', 'resistor', 'resistance')}
        {number('Length', 'length', 'cableLength')}
        <ChoiceField
          label="Shield connected at"
          value={entry.shield}
          choices={choicesOf(['none', 'one end', 'both ends'] as const)}
          onChange={(shield) => change(['shield'], shield)}
        />
        {number('Termination', 'termination', 'resistance')}
        <ChoiceField
          label="0 V of both ends"
          value={entry.commonReference ? 'yes' : 'no'}
          choices={[
            { value: 'yes', label: 'joined' },
            { value: 'no', label: 'not joined' },
          ]}
          onChange={(joined) => change(['commonReference'], joined === 'yes')}
        />
      </Grid>
      {notes}
    </>
  );
}
