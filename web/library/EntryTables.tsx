import { accessKinds, clearingWays, fieldWords, registerPurposes, type DocumentPath } from '@kavrid/contract';
import { keyInSteps, parameterRoles, spindleDriveRoles } from '@kavrid/core/drive';
import { Box, Tab, Tabs } from '@mui/material';
import { useState } from 'react';
import { RowsTable, type RowsColumn } from './RowsTable.tsx';

/** Choices whose words are their values. */
export const choicesOf = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

const yesNo = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
] as const;

/** What a row of a cable's pins has. */
export const pinColumns: readonly RowsColumn[] = [
  { field: 'signal', title: 'Signal', width: 180 },
  { field: 'controllerPin', title: 'At the controller', width: 110 },
  { field: 'drivePin', title: 'At the drive', width: 110 },
  { field: 'colour', title: 'Colour', width: 100 },
];

/** A value of a drive's or controller's list with nothing in it yet. */
export const emptyValue = {
  code: '',
  label: '',
  group: '',
  unit: '',
  access: 'read and write',
  takesEffect: 'at once',
  factory: '',
  keyValue: '',
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

/** What a row of such a list has. @param roles that a value may have */
export const valueColumns = (roles: readonly string[]): readonly RowsColumn[] => [
  { field: 'code', title: 'Code', width: 80 },
  { field: 'label', title: 'Name', width: 190 },
  {
    field: 'role',
    title: 'Meaning in Kavrid',
    width: 150,
    choices: [{ value: '', label: 'nothing' }, ...roles.map((role) => ({ value: role, label: fieldWords([role]) }))],
  },
  { field: 'unit', title: 'Unit', width: 60 },
  { field: 'scale', title: 'Display step', width: 70, number: true },
  { field: 'choices', title: 'Choices, as 0 = low; 1 = high', width: 220 },
  { field: 'factory', title: 'Factory', width: 80 },
  { field: 'keyValue', title: 'Value to key', width: 80 },
  { field: 'minimum', title: 'From', width: 70 },
  { field: 'maximum', title: 'To', width: 100 },
  { field: 'keyIn', title: 'Effect of keying it', width: 110, choices: choicesOf(keyInSteps) },
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

interface EntryTable {
  readonly title: string;
  readonly empty: Readonly<Record<string, unknown>>;
  readonly columns: readonly RowsColumn[];
}
type Tables = Readonly<Record<string, EntryTable>>;

const alarms: EntryTable = {
  title: 'Alarms',
  empty: { code: '', meaning: '', clears: 'by a reset', positionStays: true, remedy: '' },
  columns: [
    { field: 'code', title: 'Shown as', width: 80 },
    { field: 'meaning', title: 'Meaning', width: 220 },
    { field: 'clears', title: 'Clears', width: 150, choices: choicesOf(clearingWays) },
    { field: 'positionStays', title: 'Position stays valid', width: 110, choices: yesNo },
    { field: 'remedy', title: 'Remedy', width: 300 },
  ],
};

/** The lists of a spindle drive. */
export const spindleDriveTables: Tables = {
  values: { title: 'Values', empty: emptyValue, columns: valueColumns(spindleDriveRoles) },
  registers: {
    title: 'Registers',
    empty: { name: 'Register', purpose: 'other', register: 0, functionCode: '3', meaning: '' },
    columns: [
      { field: 'name', title: 'Register', width: 160 },
      { field: 'purpose', title: 'Is', width: 140, choices: choicesOf(registerPurposes) },
      { field: 'register', title: 'Number, from 0', width: 90, number: true },
      { field: 'functionCode', title: 'Function', width: 80, choices: choicesOf(['3', '4', '6', '16'] as const) },
      { field: 'meaning', title: 'Meaning', width: 320 },
    ],
  },
  alarms,
};

/** The lists of a servo drive. */
export const driveTables: Tables = {
  values: { title: 'Values', empty: emptyValue, columns: valueColumns(parameterRoles) },
  alarms,
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
};

/** The lists of an entry, one open at a time. */
export function EntryTables(props: {
  readonly label: string;
  readonly tables: Tables;
  readonly entry: object;
  readonly change: (path: DocumentPath, value: unknown) => void;
}) {
  const { label, tables, change } = props;
  const lists = props.entry as Readonly<Record<string, readonly Readonly<Record<string, unknown>>[]>>;
  const [open, setOpen] = useState('values');
  const table = tables[open];
  return (
    <Box sx={{ mt: 1.5 }}>
      <Tabs value={open} onChange={(_, next: string) => setOpen(next)} aria-label={label} variant="scrollable">
        {Object.entries(tables).map(([name, { title }]) => (
          <Tab key={name} value={name} label={`${title} (${lists[name]?.length ?? 0})`} />
        ))}
      </Tabs>
      {table && <RowsTable {...table} rows={lists[open] ?? []} change={(rows) => change([open], rows)} />}
    </Box>
  );
}
