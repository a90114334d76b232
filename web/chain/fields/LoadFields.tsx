import type { AxisDocument } from '@kavrid/contract';
import { TextField } from '@mui/material';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { Between, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';

/** What is moved, how far, and which end is plus. */
export function LoadFields() {
  const { document } = useAxis();
  const { motion } = document;
  return (
    <>
      <TextLine label="Axis name" path={['name']} value={document.name} />
      <ExactField
        label={motion.kind === 'dosing' ? 'Largest dose' : 'Travel'}
        path={['motion', 'travel']}
        rule="travel"
      />
      {motion.kind === 'rotary' && (
        <Toggle label="Endless rotary" path={['motion', 'endless']} value={motion.endless} />
      )}
      <TextLine
        label="Plus end"
        path={['plusEnd']}
        value={document.plusEnd}
        help="What is at that end: “towards the kiln”"
      />
      {motion.kind === 'linear' ? (
        <Pair>
          <NumberField label="Moved mass" path={['load', 'mass']} rule="mass" />
          <NumberField label="Incline" path={['load', 'incline']} rule="incline" help="90 is vertical, plus upwards" />
        </Pair>
      ) : (
        <NumberField label="Load inertia, at the last shaft" path={['load', 'inertia']} rule="inertia" />
      )}
      <NumberField
        label={motion.kind === 'linear' ? 'Friction along the travel' : 'Friction at the last shaft'}
        path={['load', 'friction']}
        rule={motion.kind === 'linear' ? 'friction' : 'frictionTorque'}
      />
      {motion.kind === 'linear' && <PairFields />}
      <NotesField value={document.notes} />
    </>
  );
}

const newPair: NonNullable<AxisDocument['pair']> = {
  mirrored: true,
  secondSense: 'clockwise',
  spacing: null,
  squaring: 'none',
  squaringOffset: null,
  skewLimit: null,
  commonTrip: false,
};

/** A second motor on the other side. */
function PairFields() {
  const { document } = useAxis();
  const edit = useEdit();
  const { pair } = document;
  return (
    <>
      <ChoiceField
        field="/pair"
        label="Motors on this axis"
        value={pair ? 'two' : 'one'}
        onChange={(count) => edit(['pair'], count === 'two' ? newPair : null)}
        choices={[
          { value: 'one', label: 'one' },
          { value: 'two', label: 'two, one on each side' },
        ]}
      />
      {pair && (
        <>
          <Between>The second motor</Between>
          <Toggle label="Mounted mirrored to the first motor" path={['pair', 'mirrored']} value={pair.mirrored} />
          <DocumentChoice
            label="Positive direction, viewed from the shaft end"
            value={pair.secondSense}
            path={['pair', 'secondSense']}
            choices={[
              { value: 'counterClockwise', label: 'counter-clockwise' },
              { value: 'clockwise', label: 'clockwise' },
            ]}
          />
          <DocumentChoice
            label="Squaring reference"
            value={pair.squaring}
            path={['pair', 'squaring']}
            choices={[
              { value: 'none', label: 'nothing' },
              { value: 'two home switches', label: 'a home switch on each side' },
              { value: 'hard stops', label: 'hard stops, under low torque' },
            ]}
          />
          <Pair>
            <NumberField label="Motor spacing" path={['pair', 'spacing']} rule="length" />
            <NumberField label="Skew allowed" path={['pair', 'skewLimit']} rule="distance" />
          </Pair>
          {pair.squaring === 'two home switches' && (
            <NumberField label="Squaring offset" path={['pair', 'squaringOffset']} rule="position" />
          )}
          <Toggle label="Trip of either drive stops both" path={['pair', 'commonTrip']} value={pair.commonTrip} />
        </>
      )}
    </>
  );
}

function NotesField({ value }: { readonly value: string }) {
  const edit = useEdit();
  return (
    <TextField
      label="Notes"
      multiline
      minRows={2}
      maxRows={5}
      value={value}
      onChange={(event) => edit(['notes'], event.target.value)}
      slotProps={{ htmlInput: { maxLength: 4000 } }}
    />
  );
}
