import { useAxis } from '../../member/useAxis.ts';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { CommandDriveFields } from '../commandFaces.tsx';
import { FromLibrary } from './FromLibrary.tsx';
import { Between, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';

/** How the drive takes its command, its direction, and the supply of a low-voltage drive. */
export function DriveFields() {
  const { document, computation } = useAxis();
  const { settings } = document;
  const isLinear = computation.input.motorForm === 'linear';
  return (
    <>
      <CommandDriveFields command={document.command} part="Above" />
      <FromLibrary shelf="drive" />
      <CommandDriveFields command={document.command} part="Fields" />
      <NumberField label="Position counter, bits" path={['drive', 'counterBits']} rule="counterBits" />
      <DocumentChoice
        label={isLinear ? 'Plus counts move, seen from the cable' : 'Positive direction, viewed from the shaft end'}
        value={settings.rotationSense}
        path={['settings', 'rotationSense']}
        choices={[
          { value: 'counterClockwise', label: isLinear ? 'away' : 'counter-clockwise' },
          { value: 'clockwise', label: isLinear ? 'towards it' : 'clockwise' },
        ]}
      />
      <CommandDriveFields command={document.command} part="Below" />
      <SupplyFields />
    </>
  );
}

function SupplyFields() {
  const { document } = useAxis();
  if (document.drive.supply.kind === 'AC') return null;
  return (
    <>
      <Between>DC supply</Between>
      <TextLine
        label="Name of the supply"
        path={['supply', 'name']}
        value={document.supply.name}
        help="Axes with the same supply name share it."
      />
      <Pair>
        <NumberField label="Supply voltage" path={['supply', 'voltage']} rule="voltage" />
        <NumberField label="Rated supply current" path={['supply', 'ratedCurrent']} rule="current" />
        <NumberField
          label="Current of other axes"
          path={['supply', 'otherCurrent']}
          rule="otherCurrent"
          help="at peak"
        />
        <NumberField label="Capacitance" path={['supply', 'capacitance']} rule="capacitance" help="supply and drive" />
      </Pair>
      <Toggle
        label="Absorbs regenerated energy"
        path={['supply', 'takesEnergyBack']}
        value={document.supply.takesEnergyBack}
      />
    </>
  );
}
