import {
  commandForms,
  controllerKinds,
  motorKinds,
  ratioForms,
  spindleDriveKinds,
  valueAt,
  type LibraryEntry,
} from '@kavrid/contract';
import { controllerRoles } from '@kavrid/core/drive';
import { outputKinds } from '@kavrid/core/signal';
import { Box, Checkbox, FormControlLabel, FormGroup, Switch, Typography } from '@mui/material';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import {
  choicesOf,
  driveTables,
  emptyValue,
  EntryTables,
  pinColumns,
  spindleDriveTables,
  valueColumns,
} from './EntryTables.tsx';
import { EntryGrid as Grid, entryInputs, type ChangeEntry } from './entryInputs.tsx';
import { RowsTable } from './RowsTable.tsx';

const microseconds = { unit: 'µs', of: 1e6 };
const kilowatts = { unit: 'kW', of: 0.001 };
const milliseconds = { unit: 'ms', of: 1000 };
const milliamperes = { unit: 'mA', of: 1000 };

/** The fields of an entry, by its shelf. */
export function EntryFields(props: {
  readonly item: LibraryEntry;
  readonly unread: Readonly<Record<string, string>>;
  readonly change: ChangeEntry;
  readonly keepUnread: (field: string, text: string | undefined, before: number | null) => void;
}) {
  const { item, unread, change, keepUnread } = props;
  const { entry } = item;
  const { number, text, notes } = entryInputs(entry, change, unread, keepUnread);
  switch (item.shelf) {
    case 'motor':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            {item.entry.form === 'linear' ? (
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
                  value={item.entry.kind}
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
                  value={item.entry.encoder.kind}
                  choices={[
                    { value: 'bits', label: 'bits a revolution' },
                    { value: 'lines', label: 'lines (four counts each)' },
                  ]}
                  onChange={(kind) => change(['encoder'], kind === 'lines' ? { kind, lines: '' } : { kind, bits: '' })}
                />
                {item.entry.encoder.kind === 'bits'
                  ? text('Encoder bits', 'encoder/bits')
                  : text('Encoder lines', 'encoder/lines')}
              </>
            )}
          </Grid>
          {notes}
        </>
      );
    case 'controller':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            <ChoiceField
              label="Kind"
              value={item.entry.kind}
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
            chosen={item.entry.outputs}
            onChange={(outputs) => change(['outputs'], outputs)}
          />
          {notes}
          <Typography variant="h3" sx={{ mt: 1.5 }}>
            Its settings
          </Typography>
          <RowsTable
            title="Settings"
            columns={valueColumns(controllerRoles)}
            rows={item.entry.values}
            empty={emptyValue}
            change={(rows) => change(['values'], rows)}
          />
        </>
      );
    case 'cable':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            {number('Resistor in each line', 'resistor', 'resistance')}
            {number('Length', 'length', 'cableLength')}
            <ChoiceField
              label="Shield connected at"
              value={item.entry.shield}
              choices={choicesOf(['none', 'one end', 'both ends'] as const)}
              onChange={(shield) => change(['shield'], shield)}
            />
            {number('Termination', 'termination', 'resistance')}
            <ChoiceField
              label="0 V of both ends"
              value={item.entry.commonReference ? 'yes' : 'no'}
              choices={[
                { value: 'yes', label: 'joined' },
                { value: 'no', label: 'not joined' },
              ]}
              onChange={(joined) => change(['commonReference'], joined === 'yes')}
            />
          </Grid>
          {notes}
          <Typography variant="h3" sx={{ mt: 1.5 }}>
            Pin to pin
          </Typography>
          <RowsTable
            title="Pins"
            columns={pinColumns}
            rows={item.entry.pins}
            empty={{ signal: '', controllerPin: '', drivePin: '', colour: '' }}
            change={(rows) => change(['pins'], rows)}
          />
        </>
      );
    case 'spindle motor':
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
    case 'spindle drive':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            <ChoiceField
              label="Kind"
              value={item.entry.kind}
              choices={choicesOf(spindleDriveKinds)}
              onChange={(kind) => change(['kind'], kind)}
            />
            {number('Rated current', 'ratedCurrent', 'current')}
            {number('Overload, times', 'overload', 'overload')}
            {number('Supply from', 'supplyLeast', 'plateVolts')}
            {number('Supply to', 'supplyMost', 'plateVolts')}
            <ChoiceField
              label="Phases in"
              value={item.entry.phases}
              choices={[{ value: '' as const, label: 'not known' }, ...choicesOf(['1', '3', '1 or 3'] as const)]}
              onChange={(phases) => change(['phases'], phases)}
            />
            {number('Highest frequency', 'highestHertz', 'hertz')}
            {number('Frequency step', 'resolution', 'hertz')}
            {number('DC bus, capacitance', 'capacitance', 'capacitance')}
            {number('Trips at', 'tripVolts', 'plateVolts')}
            {number('Undervoltage trip level', 'leastVolts', 'plateVolts')}
            {number('Brake chopper threshold', 'chopperVolts', 'plateVolts')}
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
              control={
                <Switch size="small" checked={item.entry[field]} onChange={(_, checked) => change([field], checked)} />
              }
              label={label}
            />
          ))}
          {notes}
          <EntryTables label="Drive lists" tables={spindleDriveTables} entry={item.entry} change={change} />
        </>
      );
    case 'drive':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            <ChoiceField
              label="Ratio format"
              value={item.entry.ratioForm}
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
              value={item.entry.pulseInput.kind}
              choices={[
                { value: 'optocoupler', label: 'optocoupler' },
                { value: 'receiver', label: 'differential receiver' },
              ]}
              onChange={(kind) => change(['pulseInput', 'kind'], kind)}
            />
            {item.entry.pulseInput.kind === 'optocoupler' && (
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
              value={item.entry.supply.kind}
              choices={choicesOf(['AC', 'DC'] as const)}
              onChange={(kind) => change(['supply', 'kind'], kind)}
            />
            <ChoiceField
              label="Phases"
              value={item.entry.supply.phases}
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
                  checked={valueAt(item.entry, path) === true}
                  onChange={(_, checked) => change(path, checked)}
                />
              }
              label={label}
            />
          ))}
          <Several
            label="Command types accepted"
            all={commandForms}
            chosen={item.entry.commands}
            onChange={(commands) => change(['commands'], commands)}
          />
          {notes}
          <EntryTables label="Drive lists" tables={driveTables} entry={item.entry} change={change} />
        </>
      );
  }
}

function Several<T extends string>(props: {
  readonly label: string;
  readonly all: readonly T[];
  readonly chosen: readonly T[];
  readonly onChange: (chosen: readonly T[]) => void;
}) {
  const { label, all, chosen, onChange } = props;
  return (
    <Box role="group" aria-label={label} sx={{ mt: 1 }}>
      <Typography variant="h3">{label}</Typography>
      <FormGroup row>
        {all.map((each) => (
          <FormControlLabel
            key={each}
            control={
              <Checkbox
                size="small"
                sx={{ p: 0.5 }}
                checked={chosen.includes(each)}
                onChange={(_, checked) =>
                  onChange(all.filter((one) => (one === each ? checked : chosen.includes(one))))
                }
              />
            }
            label={each}
            sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
          />
        ))}
      </FormGroup>
    </Box>
  );
}
