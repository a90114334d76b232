import { EntryGrid as Grid, type ShelfFields } from '../entryInputs.tsx';

const kilowatts = { unit: 'kW', of: 0.001 };

/** A spindle motor’s plate, in star and in delta. */
export function SpindleMotorEntryFields({ inputs }: ShelfFields<'spindle motor'>) {
  const { number, text, notes } = inputs;
  return (
    <>
      <Grid>
        {text('Name', 'name')}
        {number('Power', 'power', 'power', kilowatts)}
        {number('Power factor, cos φ', 'powerFactor', 'efficiency')}
        {number('Rated frequency', 'hertz', 'hertz')}
        {number('Rated speed', 'speed', 'motorSpeed')}
        {number('Poles', 'poles', 'poles')}
        {number('Star: volts', 'starVolts', 'plateVolts')}
        {number('Star: amps', 'starAmps', 'current')}
        {number('Delta: volts', 'deltaVolts', 'plateVolts')}
        {number('Delta: amps', 'deltaAmps', 'current')}
        {number('Overload, times', 'overload', 'overload')}
        {number('Rotor inertia', 'rotorInertia', 'rotorInertia')}
        {number('Bearing speed limit', 'bearingSpeed', 'motorSpeed')}
        {number('Self-cooled above', 'coolingHertz', 'hertzOrNone')}
      </Grid>
      {notes}
    </>
  );
}
