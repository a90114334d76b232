import { edsToMap, mappedObjects, readDriveProfile, readEds, type AddressRule, type Eds } from '@kavrid/contract';
import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from '@mui/material';
import { useDeferredValue, useMemo, useState } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FileButton } from '../ui/FileButton.tsx';
import { Hint } from '../ui/fieldParts.tsx';
import { numberFace } from '../ui/theme.ts';

/** One rule as it is typed. */
type TypedRule = Readonly<Record<keyof AddressRule, string>>;
const columns = [
  ['from', 'From object'],
  ['to', 'To object'],
  ['base', 'First register'],
  ['stride', 'Registers per object'],
  ['step', 'Registers per sub-index'],
] as const satisfies readonly (readonly [keyof AddressRule, string])[];

const blankRule: TypedRule = { from: '', to: '', base: '', stride: '2', step: '2' };

/** A whole number, decimal or with 0x; undefined: it cannot be read. */
const whole = (text: string): number | undefined =>
  /^(\d+|0x[0-9a-f]+)$/i.test(text.trim()) ? Number(text.trim()) : undefined;

function readRules(typed: readonly TypedRule[]): readonly AddressRule[] | undefined {
  const rules = typed.map((rule) => {
    const [from, to, base, stride, step] = columns.map(([key]) => whole(rule[key]));
    return from !== undefined && to !== undefined && base !== undefined && stride !== undefined && step !== undefined
      ? { from, to, base, stride, step }
      : undefined;
  });
  return rules.every((rule) => rule !== undefined) ? rules : undefined;
}

const wordOrders = ['high word first', 'low word first'] as const;

/** Makes a register map from an electronic data sheet: the sheet names the objects, the user says where their registers are. */
export function EdsDialog(props: {
  readonly close: () => void;
  /** Imports the map. @returns why it was refused */
  readonly onMap: (csv: string) => Promise<string | undefined>;
}) {
  const { close, onMap } = props;
  const [eds, setEds] = useState<Eds>();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const [name, setName] = useState('');
  const [typed, setTyped] = useState<readonly TypedRule[]>([blankRule]);
  const [wordOrder, setWordOrder] = useState<(typeof wordOrders)[number]>('high word first');
  const [refused, setRefused] = useState<string>();
  // A long sheet takes longer than a keystroke may.
  const settled = useDeferredValue(typed);
  const rules = useMemo(() => readRules(settled), [settled]);
  const made = useMemo(
    () => (eds && rules && name.trim() !== '' ? edsToMap(eds, rules, { name: name.trim(), wordOrder }) : undefined),
    [eds, rules, name, wordOrder],
  );
  const checked = useMemo(() => made && readDriveProfile(made.csv), [made]);
  const open = async (file: File) => {
    const result = readEds(await file.text());
    setEds(result.kind === 'eds' ? result.eds : undefined);
    setProblems(result.kind === 'eds' ? [] : result.problems);
    if (result.kind === 'eds') setName(result.eds.product || file.name.replace(/\.eds$/i, ''));
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md">
      <DialogTitle>Register map from an EDS file</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.25 }}>
        <Hint>
          An electronic data sheet (CiA 306) lists the objects of a drive. It tells neither register addresses nor units
          and scales: give the addresses here, from the drive manual; values stay raw until the map says more.
        </Hint>
        <Box>
          <FileButton accept=".eds,text/plain" testId="eds-file" onFile={(file) => void open(file)}>
            Choose an EDS file …
          </FileButton>
        </Box>
        {problems.length > 0 && <Problems title="This file cannot be used:" lines={problems} />}
        {eds && (
          <>
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
              <TextField label="Name of the map" value={name} onChange={(event) => setName(event.target.value)} />
              <ChoiceField
                label="Word order of 32-bit values"
                value={wordOrder}
                choices={wordOrders.map((value) => ({ value, label: value }))}
                onChange={setWordOrder}
              />
            </Box>
            <Rules typed={typed} change={setTyped} />
            <Preview eds={eds} rules={rules} />
            {made && made.left.length > 0 && (
              <Hint>
                {made.left.length} of {eds.objects.length} objects are left out:{' '}
                {[...new Set(made.left.map(({ because }) => because))].join('; ')}.
              </Hint>
            )}
            {made && made.unproven.length > 0 && (
              <Alert severity="warning">
                Give an address to {made.unproven.join(' and to ')}: reading it at each connect shows that the addresses
                are right.
              </Alert>
            )}
            {checked?.kind === 'refused' && (
              <Problems title="These addresses cannot be used:" lines={checked.problems} />
            )}
          </>
        )}
        {refused !== undefined && <Alert severity="error">{refused}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          disabled={checked?.kind !== 'profile' || made === undefined || made.unproven.length > 0}
          onClick={() =>
            made &&
            void onMap(made.csv).then((because) => {
              setRefused(because);
              if (because === undefined) close();
            })
          }
        >
          Import the map
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Problems({ title, lines }: { readonly title: string; readonly lines: readonly string[] }) {
  return (
    <Alert severity="error" sx={{ maxHeight: 160, overflow: 'auto' }}>
      {title}
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {lines.slice(0, 20).map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      {lines.length > 20 && `${lines.length - 20} more.`}
    </Alert>
  );
}

function Rules(props: {
  readonly typed: readonly TypedRule[];
  readonly change: (typed: readonly TypedRule[]) => void;
}) {
  const { typed, change } = props;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h3">Addresses</Typography>
      {typed.map((rule, index) => (
        <Box
          key={index}
          sx={{ display: 'grid', gridTemplateColumns: 'repeat(5, 1fr) auto', gap: 1, alignItems: 'end' }}
        >
          {columns.map(([key, title]) => (
            <TextField
              key={key}
              label={title}
              value={rule[key]}
              error={rule[key] !== '' && whole(rule[key]) === undefined}
              onChange={(event) => change(typed.with(index, { ...rule, [key]: event.target.value.slice(0, 12) }))}
              slotProps={{ htmlInput: { 'aria-label': `${title}, range ${index + 1}` } }}
            />
          ))}
          <Button
            color="error"
            disabled={typed.length === 1}
            aria-label={`Remove range ${index + 1}`}
            onClick={() => change(typed.filter((_, k) => k !== index))}
          >
            Remove
          </Button>
        </Box>
      ))}
      <Box>
        <Button disabled={typed.length >= 16} onClick={() => change([...typed, blankRule])}>
          Add a range
        </Button>
      </Box>
    </Box>
  );
}

const previewed = 8;

/** The first objects with their addresses, and those that the standard asks for. */
function Preview({ eds, rules }: { readonly eds: Eds; readonly rules: readonly AddressRule[] | undefined }) {
  const mapped = useMemo(() => mappedObjects(eds, rules ?? []), [eds, rules]);
  const isTold = ({ object: { index } }: (typeof mapped)[number]) =>
    index === 0x1000 || index === 0x1018 || index === 0x6040 || index === 0x6041 || index === 0x6060;
  const rows = [...mapped.filter(isTold), ...mapped.filter((each) => !isTold(each)).slice(0, previewed)];
  return (
    <Box
      component="table"
      aria-label="Preview of the addresses"
      sx={{
        borderCollapse: 'collapse',
        fontSize: 13,
        '& th': { textAlign: 'left', fontWeight: 600 },
        '& td': { pr: 2 },
        '& .number': { fontFamily: numberFace, fontSize: 12.5 },
      }}
    >
      <thead>
        <tr>
          <th scope="col">Object</th>
          <th scope="col">Name</th>
          <th scope="col">Type</th>
          <th scope="col">Register, from 0</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ object: { index, sub, name, type }, address }) => (
          <tr key={`${index}:${sub}`}>
            <td className="number">{`0x${index.toString(16).toUpperCase()}${sub === 0 ? '' : `:${sub}`}`}</td>
            <td>{name}</td>
            <td>{type ?? 'other'}</td>
            <td className="number">{address ?? 'no range'}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
