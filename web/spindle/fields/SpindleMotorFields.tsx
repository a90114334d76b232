import { Between, Pair } from '../../ui/fieldParts.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { SpindleFromLibrary } from './SpindleFromLibrary.tsx';

/** The plate of the motor, and what its data sheet adds. */
export function SpindleMotorFields() {
  return (
    <>
      <SpindleFromLibrary shelf="spindle motor" />
      <Between>Plate</Between>
      <Pair>
        <NumberField label="Power" path={['motor', 'power']} rule="power" shownIn={{ unit: 'kW', of: 0.001 }} />
        <NumberField label="Power factor, cos φ" path={['motor', 'powerFactor']} rule="efficiency" />
        <NumberField label="Rated frequency" path={['motor', 'hertz']} rule="hertz" />
        <NumberField label="Rated speed" path={['motor', 'speed']} rule="motorSpeed" />
        <NumberField label="Star: volts" path={['motor', 'starVolts']} rule="plateVolts" />
        <NumberField label="Star: amps" path={['motor', 'starAmps']} rule="current" />
        <NumberField label="Delta: volts" path={['motor', 'deltaVolts']} rule="plateVolts" />
        <NumberField label="Delta: amps" path={['motor', 'deltaAmps']} rule="current" />
        <NumberField label="Poles" path={['motor', 'poles']} rule="poles" help="empty: from Hz and rpm" />
        <NumberField label="Overload, times" path={['motor', 'overload']} rule="overload" help="of rated torque" />
      </Pair>
      <Between>Data sheet</Between>
      <Pair>
        <NumberField label="Rotor inertia" path={['motor', 'rotorInertia']} rule="rotorInertia" />
        <NumberField label="Bearing speed limit" path={['motor', 'bearingSpeed']} rule="motorSpeed" />
        <NumberField
          label="Self-cooled above"
          path={['motor', 'coolingHertz']}
          rule="hertzOrNone"
          help="0: separate fan, water or air cooling"
        />
      </Pair>
    </>
  );
}
