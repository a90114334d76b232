import {
  accessKinds,
  clearingWays,
  fieldWords,
  registerPurposes,
  type DocumentPath,
  type LibraryEntry,
  type LibraryKind,
} from '@kavrid/contract';
import { controllerRoles, keyInSteps, parameterRoles, spindleDriveRoles } from '@kavrid/core/drive';
import { terminalCurrents, terminalUses } from '@kavrid/core/signal';
import { Tab, Tabs } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { RowsTable } from './RowsTable.tsx';
import { choicesOf, type Row, type RowsColumn } from './rowValues.ts';

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

/** A value of a drive's or controller's list with nothing in it yet. */
const emptyValue = {
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
const valueColumns = (roles: readonly string[]): readonly RowsColumn[] => [
  { field: 'code', title: 'Code', width: 80, isListed: true },
  { field: 'label', title: 'Name', width: 190, isListed: true },
  {
    field: 'role',
    isListed: true,
    title: 'Meaning in Kavrid',
    width: 150,
    choices: [{ value: '', label: 'nothing' }, ...roles.map((role) => ({ value: role, label: fieldWords([role]) }))],
  },
  { field: 'unit', title: 'Unit', width: 60, isListed: true },
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
    { field: 'code', title: 'Shown as', width: 55 },
    { field: 'meaning', title: 'Meaning', width: 150 },
    { field: 'clears', title: 'Clears', width: 135, choices: choicesOf(clearingWays) },
    { field: 'positionStays', title: 'Position stays valid', width: 75, choices: yesNo },
    { field: 'remedy', title: 'Remedy', width: 200 },
  ],
};

/** The lists of a spindle drive. */
const spindleDriveTables: Tables = {
  values: { title: 'Values', empty: emptyValue, columns: valueColumns(spindleDriveRoles) },
  registers: {
    title: 'Registers',
    empty: { name: 'Register', purpose: 'other', register: 0, functionCode: '3', meaning: '' },
    columns: [
      { field: 'name', title: 'Register', width: 120 },
      { field: 'purpose', title: 'Is', width: 125, choices: choicesOf(registerPurposes) },
      { field: 'register', title: 'Number, from 0', width: 70, number: true },
      { field: 'functionCode', title: 'Function', width: 65, choices: choicesOf(['3', '4', '6', '16'] as const) },
      { field: 'meaning', title: 'Meaning', width: 230 },
    ],
  },
  alarms,
};

const terminals: EntryTable = {
  title: 'Terminals',
  empty: { name: '', use: 'any input', current: 'not known', isNeeded: false, note: '' },
  columns: [
    { field: 'name', title: 'Marked', width: 80 },
    { field: 'use', title: 'For', width: 140, choices: choicesOf(terminalUses) },
    { field: 'current', title: 'Current', width: 105, choices: choicesOf(terminalCurrents) },
    { field: 'isNeeded', title: 'Needed to enable', width: 80, choices: yesNo },
    { field: 'note', title: 'Note', width: 200 },
  ],
};

/** The lists of a servo drive. */
const driveTables: Tables = {
  values: { title: 'Values', empty: emptyValue, columns: valueColumns(parameterRoles) },
  terminals,
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
      { field: 'note', title: 'Remarks', width: 400 },
    ],
  },
};

const tablesOf: Readonly<Record<LibraryKind, Tables>> = {
  motor: {},
  drive: driveTables,
  controller: {
    values: { title: 'Settings', empty: emptyValue, columns: valueColumns(controllerRoles) },
    terminals,
  },
  cable: {
    pins: {
      title: 'Pins',
      empty: { signal: '', controllerPin: '', drivePin: '', colour: '' },
      columns: pinColumns,
    },
  },
  'spindle motor': {},
  'spindle drive': spindleDriveTables,
};

/** The lists of an entry behind its data, one open at a time. */
export function EntryTables(props: {
  readonly item: LibraryEntry;
  readonly change: (path: DocumentPath, value: unknown) => void;
  /** The fields of its data. */
  readonly children: ReactNode;
}) {
  const { item, change, children } = props;
  const tables = tablesOf[item.shelf];
  const lists = item.entry as object as Readonly<Record<string, readonly Row[]>>;
  const [open, setOpen] = useState('data');
  const table = tables[open];
  if (Object.keys(tables).length === 0) return children;
  return (
    <>
      <Tabs
        value={open}
        onChange={(_, next: string) => setOpen(next)}
        aria-label="Parts of this entry"
        sx={{ mb: 1.5 }}
      >
        <Tab value="data" label="Data" />
        {Object.entries(tables).map(([name, { title }]) => (
          <Tab key={name} value={name} label={`${title} (${lists[name]?.length ?? 0})`} />
        ))}
      </Tabs>
      {table ? <RowsTable {...table} rows={lists[open] ?? []} change={(rows) => change([open], rows)} /> : children}
    </>
  );
}
