import {
  addressOf,
  blankMapRow,
  mapColumns,
  readDriveProfile,
  readMapRows,
  writeMapRows,
  type MapColumn,
  type MapRow,
  type ProfileRecord,
} from '@kavrid/contract';
import { inputRoles, outputRoles, parameterRoles, spindleDriveRoles } from '@kavrid/core/drive';
import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  List,
  ListItemButton,
  MenuItem,
  TextField,
  Typography,
} from '@mui/material';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { useReplaceProfileMutation } from '../store/api.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { numberFace } from '../ui/theme.ts';

/** Rows that are listed at once; the search finds the others. */
const mostListed = 200;

interface Shape {
  readonly columns: readonly MapColumn[];
  readonly roles: readonly string[];
}

/** The cells that a row of each kind has. */
const shapes = {
  profile: { columns: ['key', 'label'], roles: [] },
  register: {
    columns: ['key', 'label', 'object', 'type', 'scale', 'unit', 'address', 'function', 'bits', 'help'],
    roles: [],
  },
  parameter: {
    columns: mapColumns.filter((column) => column !== 'kind' && column !== 'function'),
    roles: [...parameterRoles, ...spindleDriveRoles],
  },
  input: { columns: ['key', 'label', 'role', 'bits'], roles: inputRoles },
  output: { columns: ['key', 'label', 'role', 'bits'], roles: outputRoles },
} as const satisfies Record<string, Shape>;
type RowKind = keyof typeof shapes;
const isRowKind = (kind: string): kind is RowKind => kind in shapes;
const shapeOf = (kind: string): Shape => (isRowKind(kind) ? shapes[kind] : shapes.register);

const titles: Readonly<Record<MapColumn, string>> = {
  kind: 'Kind',
  key: 'Key',
  label: 'Label',
  group: 'Group',
  role: 'Meaning to Kavrid',
  object: 'CiA 402 object',
  type: 'Type',
  scale: 'Scale: value = raw × scale',
  unit: 'Unit',
  minimum: 'Minimum, in the unit',
  maximum: 'Maximum, in the unit',
  factory: 'Factory value, in the unit',
  takesEffect: 'Takes effect',
  address: 'Register that is written',
  running: 'Register of the value in effect',
  stored: 'Register of the stored copy',
  factoryAddress: 'Register of the factory copy',
  choices: 'Choices: 0=off;1=on',
  help: 'Help',
  bits: 'Bits: 3 or 4-7',
  function: 'Function: 4 for input registers',
};
const options: Partial<Readonly<Record<MapColumn, readonly string[]>>> = {
  type: ['u16', 'i16', 'u32', 'i32'],
  takesEffect: ['at once', 'after restart'],
};

/** Edits a register map row by row; it is checked as a whole, and kept only when it is sound. */
export function MapEditorDialog({ profile, close }: { readonly profile: ProfileRecord; readonly close: () => void }) {
  const [rows, setRows] = useState<readonly MapRow[]>();
  const [failed, setFailed] = useState<string>();
  const [chosen, setChosen] = useState<number>();
  const [text, setText] = useState('');
  const [replace, replacing] = useReplaceProfileMutation();
  useEffect(() => {
    const ended = new AbortController();
    fetch(`/api${addressOf('readProfile', { id: profile.id })}`, { signal: ended.signal })
      .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error('The server does not give it.'))))
      .then((csv) => setRows(readMapRows(csv)))
      .catch((error: unknown) => !ended.signal.aborted && setFailed(error instanceof Error ? error.message : ''));
    return () => ended.abort();
  }, [profile.id]);
  // A long map takes longer to check than a keystroke may.
  const settled = useDeferredValue(rows);
  const checked = useMemo(() => (settled ? readDriveProfile(writeMapRows(settled)) : undefined), [settled]);
  const problems = checked?.kind === 'refused' ? checked.problems : [];
  const found = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    return (settled ?? []).flatMap((row, index) => {
      const place = `${row.kind} ${row.key} ${row.label} ${row.group} ${row.object} ${row.address}`.toLowerCase();
      return words.every((word) => place.includes(word)) ? [{ row, index }] : [];
    });
  }, [settled, text]);
  const row = chosen === undefined ? undefined : rows?.[chosen];
  const change = (column: MapColumn, value: string) =>
    setRows(rows?.map((each, index) => (index === chosen ? { ...each, [column]: value } : each)));
  const add = (kind: RowKind) => {
    if (!rows) return;
    setRows([...rows, { ...blankMapRow, kind, ...(kind === 'parameter' ? blankParameter : {}) }]);
    setChosen(rows.length);
    setText('');
  };
  const save = async () => {
    if (!rows) return;
    const done = await replace({ id: profile.id, csv: writeMapRows(rows) });
    if (done.data) close();
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="lg">
      <DialogTitle>Register map: {profile.name}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1, alignContent: 'start' }}>
        <Hint>
          Every value of the drive with its register, unit and range. It is checked as a whole and kept only when it is
          sound. {profile.users.length > 0 && `Used by ${profile.users.join('; ')}.`}
        </Hint>
        {failed !== undefined && <Alert severity="error">{failed}</Alert>}
        {replacing.error && <Alert severity="error">{reasonOf(replacing.error)}</Alert>}
        {rows && (
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: '330px minmax(0, 1fr)',
              gridTemplateRows: 'minmax(0, 1fr)',
              gap: 2,
              height: 'min(440px, 55vh)',
            }}
          >
            <Box sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr) auto', gap: 0.5, pt: 0.75 }}>
              <TextField label="Find a row" value={text} onChange={({ target }) => setText(target.value)} />
              <List dense aria-label="Rows" sx={{ overflow: 'auto', py: 0 }}>
                {found.slice(0, mostListed).map(({ row: each, index }) => (
                  <ListItemButton
                    key={index}
                    selected={index === chosen}
                    onClick={() => setChosen(index)}
                    sx={{ py: 0.25, fontSize: 12.5, gap: 1 }}
                  >
                    <Box sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
                      {each.label || each.key || 'new row'}
                    </Box>
                    <Box sx={{ color: 'text.secondary', fontFamily: numberFace }}>{each.address || each.kind}</Box>
                  </ListItemButton>
                ))}
                {found.length > mostListed && (
                  <Typography variant="body2" sx={{ p: 1 }}>
                    {found.length - mostListed} more: search for them.
                  </Typography>
                )}
              </List>
              <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
                {(['parameter', 'register', 'input', 'output'] as const).map((kind) => (
                  <Button key={kind} size="small" onClick={() => add(kind)}>
                    Add {kind === 'input' || kind === 'output' ? 'an' : 'a'} {kind}
                  </Button>
                ))}
              </Box>
            </Box>
            <Box sx={{ overflow: 'auto', pt: 0.75 }}>
              {row ? (
                <RowForm
                  key={chosen}
                  row={row}
                  change={change}
                  remove={() => {
                    setRows(rows.filter((_, index) => index !== chosen));
                    setChosen(undefined);
                  }}
                />
              ) : (
                <Typography color="text.secondary">Choose a row to see and change it.</Typography>
              )}
            </Box>
          </Box>
        )}
        {problems.length > 0 && (
          <Alert severity="error" sx={{ maxHeight: 110, overflow: 'auto', py: 0 }}>
            {problems.slice(0, 20).map((problem) => (
              <div key={problem}>{inRows(problem)}</div>
            ))}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!rows || settled !== rows || problems.length > 0 || replacing.isLoading}
          onClick={() => void save()}
        >
          Save the register map
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const blankParameter = { type: 'u16', scale: '1', takesEffect: 'at once' } as const;

/** Lines of the file are rows here: the first of them is its header. */
const inRows = (problem: string): string =>
  problem.replace(/^Line (\d+)/, (_, line: string) => `Row ${Number(line) - 1}`);

/** A role as it is read: “following error window”. */
const inWords = (role: string): string => role.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

function RowForm(props: {
  readonly row: MapRow;
  readonly change: (column: MapColumn, value: string) => void;
  readonly remove: () => void;
}) {
  const { row, change, remove } = props;
  const { columns, roles } = shapeOf(row.kind);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.25, alignItems: 'start' }}>
      {columns.map((column) => {
        const choices = column === 'role' ? roles : options[column];
        const isKept = row[column] === '' || !choices || choices.includes(row[column]);
        return (
          <TextField
            key={column}
            label={titles[column]}
            value={row[column]}
            select={choices !== undefined}
            multiline={column === 'help'}
            onChange={({ target }) => change(column, target.value)}
            sx={column === 'help' || column === 'choices' ? { gridColumn: '1 / -1' } : undefined}
          >
            {choices && [
              <MenuItem key="" value="">
                none
              </MenuItem>,
              ...(isKept ? choices : [row[column], ...choices]).map((choice) => (
                <MenuItem key={choice} value={choice} dense>
                  {column === 'role' ? inWords(choice) : choice}
                </MenuItem>
              )),
            ]}
          </TextField>
        );
      })}
      {row.kind !== 'profile' && (
        <Button color="error" size="small" onClick={remove} sx={{ justifySelf: 'start' }}>
          Delete this row
        </Button>
      )}
    </Box>
  );
}
