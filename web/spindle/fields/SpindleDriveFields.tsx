import { Between, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { useSpindle } from '../../member/useSpindle.ts';
import { SpindleFromLibrary } from './SpindleFromLibrary.tsx';

/** The data of the drive. */
export function SpindleDriveFields() {
  const { drive } = useSpindle().document;
  return (
    <>
      <SpindleFromLibrary shelf="spindle drive" />
      <Pair>
        <NumberField label="Rated current" path={['drive', 'ratedCurrent']} rule="current" />
        <NumberField label="Overload, times" path={['drive', 'overload']} rule="overload" help="for a minute" />
        <NumberField label="Supply from" path={['drive', 'supplyLeast']} rule="plateVolts" />
        <NumberField label="Supply up to" path={['drive', 'supplyMost']} rule="plateVolts" />
        <DocumentChoice
          label="Phases in"
          value={drive.phases}
          path={['drive', 'phases']}
          choices={[
            { value: '1', label: 'one' },
            { value: '3', label: 'three' },
            { value: '1 or 3', label: 'one or three' },
            { value: '', label: 'not known' },
          ]}
        />
        <NumberField label="Highest frequency" path={['drive', 'highestHertz']} rule="hertz" />
        <NumberField label="Frequency step" path={['drive', 'resolution']} rule="hertz" />
        <NumberField label="Idle power" path={['drive', 'idlePower']} rule="powerOrNone" />
      </Pair>
      <Between>DC bus</Between>
      <Pair>
        <NumberField label="Capacitance" path={['drive', 'capacitance']} rule="capacitance" />
        <NumberField label="Trips at" path={['drive', 'tripVolts']} rule="plateVolts" />
        <NumberField label="Undervoltage trip level" path={['drive', 'leastVolts']} rule="plateVolts" />
        <NumberField label="Discharge time" path={['drive', 'dischargeTime']} rule="minutes" />
      </Pair>
      <Toggle label="Brake chopper fitted" path={['drive', 'hasChopper']} value={drive.hasChopper} />
      {drive.hasChopper && (
        <Pair>
          <NumberField label="Chopper threshold" path={['drive', 'chopperVolts']} rule="plateVolts" />
          <NumberField label="Lowest resistor value" path={['drive', 'leastOhms']} rule="resistance" />
        </Pair>
      )}
    </>
  );
}
