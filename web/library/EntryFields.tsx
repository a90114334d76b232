import {
  accessKinds,
  clearingWays,
  commandForms,
  controllerKinds,
  fieldWords,
  motorKinds,
  ratioForms,
  valueAt,
  type DocumentPath,
  type DriveEntry,
  type LibraryEntry,
  type RuleName,
} from '@kavrid/contract';
import { controllerRoles, keyInSteps, parameterRoles } from '@kavrid/core/drive';
import { outputKinds } from '@kavrid/core/signal';
import { Box, Checkbox, FormControlLabel, FormGroup, Switch, TextField, Typography } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberInput } from '../ui/QuantityField.tsx';
import { RowsTable, type RowsColumn } from './RowsTable.tsx';

type ChangeEntry = (path: DocumentPath, value: unknown) => void;

const Grid = ({ children }: { readonly children: ReactNode }) => (
  <Box
    sx={{
      display: 'grid',
      gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))',
      gap: 1.25,
      alignItems: 'start',
    }}
  >
    {children}
  </Box>
);

const microseconds = { unit: 'µs', of: 1e6 };
const milliamperes = { unit: 'mA', of: 1000 };
const choicesOf = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

/** The fields of an entry, by its shelf. */
export function EntryFields(props: { readonly id: string; readonly item: LibraryEntry; readonly change: ChangeEntry }) {
  const { id, item, change } = props;
  const { entry } = item;
  const number = (label: string, field: string, rule: RuleName, shownIn?: { unit: string; of: number }) => (
    <NumberInput
      label={label}
      rule={rule}
      value={valueAt(entry, field.split('/')) as number | null}
      shownIn={shownIn}
      keepAs={`${id}/${field}`}
      onValue={(value) => change(field.split('/'), value)}
    />
  );
  const text = (label: string, field: string, help?: string) => (
    <TextField
      label={label}
      value={valueAt(entry, field.split('/')) as string}
      helperText={help}
      onChange={(event) => change(field.split('/'), event.target.value)}
      slotProps={{ htmlInput: { maxLength: 80 } }}
    />
  );
  const notes = (
    <TextField
      label="Notes"
      multiline
      minRows={2}
      value={entry.notes}
      onChange={(event) => change(['notes'], event.target.value)}
      slotProps={{ htmlInput: { maxLength: 2000 } }}
      sx={{ mt: 1.25 }}
    />
  );
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
            {number('Lost in the output', 'outputDrop', 'voltage')}
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
              label="Shield joined at"
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
    case 'drive':
      return (
        <>
          <Grid>
            {text('Name', 'name')}
            <ChoiceField
              label="Ratio is given as"
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
            {number('Shortest pulse', 'minimumPulseWidth', 'pulseWidth', microseconds)}
            {number('Direction before pulse', 'directionSetUp', 'pulseWidth', microseconds)}
            <ChoiceField
              label="Behind the pulse terminals"
              value={item.entry.pulseInput.kind}
              choices={[
                { value: 'optocoupler', label: 'optocoupler' },
                { value: 'receiver', label: 'differential receiver' },
              ]}
              onChange={(kind) => change(['pulseInput', 'kind'], kind)}
            />
            {item.entry.pulseInput.kind === 'optocoupler' && (
              <>
                {number('Optocoupler voltage', 'pulseInput/forwardVoltage', 'voltage')}
                {number('Resistor in the drive', 'pulseInput/resistance', 'resistance')}
                {number('Input current from', 'pulseInput/minimumCurrent', 'current', milliamperes)}
                {number('Input current to', 'pulseInput/maximumCurrent', 'current', milliamperes)}
              </>
            )}
            {number('Position counter, bits', 'counterBits', 'counterBits')}
            {number('Gear ratios it switches', 'gearSets', 'gearSets')}
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
          </Grid>
          {(
            [
              [['ratioInverted'], 'Its manual writes counts = pulses × D / N'],
              [['supply', 'reversePolaritySafe'], 'Stands a supply of reversed polarity'],
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
            label="Commands it takes"
            all={commandForms}
            chosen={item.entry.commands}
            onChange={(commands) => change(['commands'], commands)}
          />
          {notes}
          <DriveTables entry={item.entry} change={change} />
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

const yesNo = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
] as const;

const pinColumns: readonly RowsColumn[] = [
  { field: 'signal', title: 'Signal', width: 180 },
  { field: 'controllerPin', title: 'At the controller', width: 110 },
  { field: 'drivePin', title: 'At the drive', width: 110 },
  { field: 'colour', title: 'Colour', width: 100 },
];

const emptyValue = {
  code: '',
  label: '',
  group: '',
  unit: '',
  access: 'read and write',
  takesEffect: 'at once',
  factory: '',
  minimum: '',
  maximum: '',
  role: null,
  note: '',
  keyIn: 'value',
  scale: 1,
  half: 'whole',
  halfBase: null,
  firstBit: null,
  bits: null,
  choices: '',
  shows: '',
};

const valueColumns = (roles: readonly string[]): readonly RowsColumn[] => [
  { field: 'code', title: 'Code', width: 80 },
  { field: 'label', title: 'What it is', width: 190 },
  {
    field: 'role',
    title: 'Means to Kavrid',
    width: 150,
    choices: [{ value: '', label: 'nothing' }, ...roles.map((role) => ({ value: role, label: fieldWords([role]) }))],
  },
  { field: 'unit', title: 'Unit', width: 60 },
  { field: 'scale', title: 'Keyed in steps of', width: 70, number: true },
  { field: 'choices', title: 'Choices, as 0 = low; 1 = high', width: 220 },
  { field: 'factory', title: 'Factory', width: 80 },
  { field: 'minimum', title: 'From', width: 70 },
  { field: 'maximum', title: 'To', width: 100 },
  { field: 'keyIn', title: 'Keying it', width: 110, choices: choicesOf(keyInSteps) },
  { field: 'shows', title: 'Display then shows', width: 90 },
  {
    field: 'takesEffect',
    title: 'Takes effect',
    width: 105,
    choices: choicesOf(['at once', 'after restart'] as const),
  },
  { field: 'group', title: 'Group', width: 90 },
  { field: 'access', title: 'Access', width: 120, choices: choicesOf(accessKinds) },
  { field: 'half', title: 'Half', width: 80, choices: choicesOf(['whole', 'high', 'low'] as const) },
  { field: 'halfBase', title: 'Halves split at', width: 80, number: true },
  { field: 'firstBit', title: 'Lowest bit', width: 60, number: true },
  { field: 'bits', title: 'Bits', width: 50, number: true },
  { field: 'note', title: 'Note', width: 220 },
];

const tables = {
  values: { title: 'Values', empty: emptyValue, columns: valueColumns(parameterRoles) },
  alarms: {
    title: 'Alarms',
    empty: { code: '', meaning: '', clears: 'by a reset', positionStays: true, remedy: '' },
    columns: [
      { field: 'code', title: 'Shown as', width: 80 },
      { field: 'meaning', title: 'Meaning', width: 220 },
      { field: 'clears', title: 'Clears', width: 150, choices: choicesOf(clearingWays) },
      { field: 'positionStays', title: 'Position stays valid', width: 110, choices: yesNo },
      { field: 'remedy', title: 'Remedy', width: 300 },
    ],
  },
  lamps: {
    title: 'Lamps',
    empty: { pattern: '', meaning: '' },
    columns: [
      { field: 'pattern', title: 'Pattern', width: 200 },
      { field: 'meaning', title: 'Meaning', width: 400 },
    ],
  },
  displays: {
    title: 'Display',
    empty: { shows: '', meaning: '' },
    columns: [
      { field: 'shows', title: 'Shows', width: 120 },
      { field: 'meaning', title: 'Meaning', width: 400 },
    ],
  },
  switchTable: {
    title: 'Switch table',
    empty: { switches: '', value: '' },
    columns: [
      { field: 'switches', title: 'Switches', width: 200 },
      { field: 'value', title: 'Pulses per revolution', width: 160 },
    ],
  },
  firmware: {
    title: 'Firmware known',
    empty: { version: '', note: '' },
    columns: [
      { field: 'version', title: 'Version', width: 100 },
      { field: 'note', title: 'What to know', width: 400 },
    ],
  },
} as const satisfies Readonly<
  Record<string, { title: string; empty: Readonly<Record<string, unknown>>; columns: readonly RowsColumn[] }>
>;

type TableName = keyof typeof tables;

function DriveTables({ entry, change }: { readonly entry: DriveEntry; readonly change: ChangeEntry }) {
  const [open, setOpen] = useState<TableName>('values');
  const { columns, empty } = tables[open];
  return (
    <Box sx={{ mt: 1.5 }}>
      <Box role="tablist" aria-label="Lists of the drive" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {(Object.keys(tables) as TableName[]).map((name) => (
          <Box
            component="button"
            type="button"
            role="tab"
            key={name}
            aria-selected={open === name}
            onClick={() => setOpen(name)}
            sx={{
              font: 'inherit',
              fontSize: 13,
              color: open === name ? 'primary.main' : 'text.primary',
              bgcolor: 'transparent',
              border: 0,
              borderBottom: 2,
              borderColor: open === name ? 'primary.main' : 'transparent',
              cursor: 'pointer',
            }}
          >
            {tables[name].title} ({entry[name].length})
          </Box>
        ))}
      </Box>
      <RowsTable
        title={tables[open].title}
        columns={columns}
        rows={entry[open]}
        empty={empty}
        change={(rows) => change([open], rows)}
      />
    </Box>
  );
}
