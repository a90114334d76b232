import { readSnapshotFile, writeSnapshotFile, type DriveData, type SnapshotSummary } from '@kavrid/contract';
import { valuesOf, valuesToWrite, type CloneTarget, type RawValues } from '@kavrid/core/drive';
import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import { useMember } from '../member/memberContext.ts';
import { useLinkLive } from '../member/useLive.ts';
import {
  useDeleteSnapshotMutation,
  useLazySnapshotQuery,
  useMachineQuery,
  useProfilesQuery,
  useRenameSnapshotMutation,
  useSnapshotsQuery,
} from '../store/api.ts';
import { act } from '../store/liveLine.ts';
import { refused } from '../store/live.ts';
import { useAppDispatch } from '../store/store.ts';
import { FileButton } from '../ui/FileButton.tsx';
import { Hint } from '../ui/fieldParts.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { saveText } from '../ui/saveText.ts';
import { ownColumns, ownKinds, type ValueColumn } from './valueColumn.ts';

const shownMoment = (iso: string) => new Date(iso).toLocaleString();

/** Sets of values for this drive: kept, opened from a file, set beside each other, and written. */
export function SnapshotsDialog(props: {
  readonly driveData: DriveData | undefined;
  readonly compare: (pair: readonly [ValueColumn, ValueColumn]) => void;
  readonly close: () => void;
}) {
  const { driveData, compare, close } = props;
  const { memberId } = useMember();
  const { machineId = '' } = useParams();
  const { data: snapshots = [], error } = useSnapshotsQuery(machineId, { skip: machineId === '' });
  const { data: machine } = useMachineQuery(machineId, { skip: machineId === '' });
  const [files, setFiles] = useState<readonly Extract<ValueColumn, { kind: 'other' }>[]>([]);
  /** Ids of the columns that are ticked, two at most: the older one goes. */
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [problems, setProblems] = useState<readonly string[]>([]);
  const [readSnapshot] = useLazySnapshotQuery();
  const dispatch = useAppDispatch();
  const target = useCloneTarget();
  const parameters = driveData?.comparisons.map(({ parameter }) => parameter) ?? [];
  const factory: RawValues = Object.fromEntries(
    driveData?.comparisons.flatMap(({ parameter, factory: raw }) =>
      raw === undefined ? [] : [[parameter.key, raw]],
    ) ?? [],
  );
  const nameOf = (id: string) => machine?.axes.find((each) => each.id === id)?.document.name ?? '';
  const choose = (id: string) =>
    setChosen((before) => (before.includes(id) ? before.filter((each) => each !== id) : [...before, id].slice(-2)));
  const load = async (snapshot: SnapshotSummary) => (await readSnapshot(snapshot.id, true)).data;
  const columnOf = async (id: string): Promise<ValueColumn | undefined> => {
    const own = ownKinds.find((kind) => kind === id);
    if (own) return { kind: own };
    const snapshot = snapshots.find((each) => each.id === id);
    const record = snapshot && (await load(snapshot));
    return record
      ? { kind: 'other', id, title: `${record.name}, ${shownMoment(record.takenAt)}`, values: valuesOf(record) }
      : files.find((file) => file.id === id);
  };
  const compareChosen = async () => {
    const [first, second] = await Promise.all(chosen.map(columnOf));
    if (!first || !second) return;
    compare([first, second]);
    close();
  };
  const write = (label: string, values: RawValues) => {
    void dispatch(act(memberId, (version) => ({ type: 'readDrive', version, target: { label, values } })));
    close();
  };
  const writeSnapshot = async (summary: SnapshotSummary) => {
    const snapshot = await load(summary);
    if (!snapshot || !target) return;
    const taken = valuesToWrite(snapshot, parameters, target);
    if ('because' in taken) return void dispatch(refused(taken.because));
    const source = `snapshot “${snapshot.name}”`;
    write(taken.isClone ? `${source} of ${nameOf(snapshot.memberId)}`.slice(0, 120) : source, taken.values);
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md">
      <DialogTitle>Snapshots and comparison</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.25, alignContent: 'start' }}>
        <Hint>
          A snapshot keeps every value of the drive as it is now. One is kept automatically before anything is written.
          Tick two to see them side by side. “Write …” first reads the drive and shows what would change; nothing is
          written until you confirm it.
        </Hint>
        <TakeSnapshot canTake={target !== undefined} />
        {error && <Alert severity="error">{reasonOf(error)}</Alert>}
        {problems.length > 0 && (
          <Alert severity="error" onClose={() => setProblems([])}>
            {problems.map((problem) => (
              <div key={problem}>{problem}</div>
            ))}
          </Alert>
        )}
        <Table size="small" aria-label="Sets of values" sx={{ '& td': { fontSize: 12.5, py: 0.25 } }}>
          <TableHead>
            <TableRow>
              {['Compare', 'Values', 'Drive of', 'Read', ''].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {ownKinds.map((kind) => (
              <Source
                key={kind}
                title={ownColumns[kind]}
                isChosen={chosen.includes(kind)}
                choose={() => choose(kind)}
                drive={kind === 'planned' ? '' : nameOf(memberId)}
                read=""
              >
                {kind === 'factory' && (
                  <Button
                    size="small"
                    disabled={!target || Object.keys(factory).length === 0}
                    onClick={() => write('the factory values', factory)}
                  >
                    Write …
                  </Button>
                )}
              </Source>
            ))}
            {files.map((file) => (
              <Source
                key={file.id}
                title={file.title}
                isChosen={chosen.includes(file.id)}
                choose={() => choose(file.id)}
                drive=""
                read="from a file"
              >
                <Button size="small" disabled={!target} onClick={() => write(file.title, file.values)}>
                  Write …
                </Button>
              </Source>
            ))}
            {snapshots.map((snapshot) => (
              <SnapshotRow
                key={snapshot.id}
                snapshot={snapshot}
                drive={nameOf(snapshot.memberId)}
                isChosen={chosen.includes(snapshot.id)}
                canWrite={target !== undefined}
                choose={() => choose(snapshot.id)}
                write={() => void writeSnapshot(snapshot)}
                save={() =>
                  void load(snapshot).then(
                    (record) =>
                      record && saveText(`${snapshot.name}.csv`, writeSnapshotFile(parameters, valuesOf(record))),
                  )
                }
              />
            ))}
          </TableBody>
        </Table>
        {!target && (
          <Typography variant="body2" color="text.secondary">
            Connect to the drive to take a snapshot or to write one.
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <FileButton
          accept=".csv,text/csv"
          testId="values-file"
          disabled={parameters.length === 0}
          onFile={(file) =>
            void file.text().then((text) => {
              const read = readSnapshotFile(parameters, text);
              setProblems(read.kind === 'refused' ? read.problems : []);
              if (read.kind === 'values')
                setFiles([
                  ...files.filter(({ id }) => id !== `file ${file.name}`),
                  {
                    kind: 'other',
                    id: `file ${file.name}`,
                    title: `file “${file.name}”`.slice(0, 120),
                    values: read.values,
                  },
                ]);
            })
          }
        >
          Open a file …
        </FileButton>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" disabled={chosen.length < 2} onClick={() => void compareChosen()}>
          {chosen.length < 2 ? 'Tick two to compare' : 'Compare the two'}
        </Button>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

/** The connected drive, where it may be written to. */
function useCloneTarget(): CloneTarget | undefined {
  const { memberId, document } = useMember();
  const { data: profiles = [] } = useProfilesQuery();
  const { isUp, identity } = useLinkLive((live) => ({ isUp: live?.link === 'up', identity: live?.identity?.mark }));
  const map = profiles.find(({ id }) => id === document.link.profileId)?.name;
  return isUp && identity !== undefined && map !== undefined ? { memberId, identity, map } : undefined;
}

function TakeSnapshot({ canTake }: { readonly canTake: boolean }) {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  const [name, setName] = useState('');
  return (
    <Box
      component="form"
      sx={{ display: 'flex', gap: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch(act(memberId, (version) => ({ type: 'takeSnapshot', version, name: name.trim() })));
        setName('');
      }}
    >
      <TextField
        label="Name of a new snapshot"
        value={name}
        onChange={({ target }) => setName(target.value)}
        slotProps={{ htmlInput: { maxLength: 80 } }}
        sx={{ flex: 1 }}
      />
      <Button type="submit" variant="outlined" disabled={!canTake || name.trim() === ''}>
        Take a snapshot
      </Button>
    </Box>
  );
}

function Source(props: {
  readonly title: string;
  readonly drive: string;
  readonly read: string;
  readonly isChosen: boolean;
  readonly choose: () => void;
  readonly children?: ReactNode;
}) {
  const { title, drive, read, isChosen, choose, children } = props;
  return (
    <TableRow hover>
      <TableCell padding="checkbox">
        <Checkbox
          size="small"
          checked={isChosen}
          onChange={choose}
          slotProps={{ input: { 'aria-label': `Compare ${title}` } }}
        />
      </TableCell>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>{title}</TableCell>
      <TableCell>{drive}</TableCell>
      <TableCell>{read}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        {children}
      </TableCell>
    </TableRow>
  );
}

function SnapshotRow(props: {
  readonly snapshot: SnapshotSummary;
  readonly drive: string;
  readonly isChosen: boolean;
  readonly canWrite: boolean;
  readonly choose: () => void;
  readonly write: () => void;
  readonly save: () => void;
}) {
  const { snapshot, drive, isChosen, canWrite, choose, write, save } = props;
  const [rename] = useRenameSnapshotMutation();
  const [remove] = useDeleteSnapshotMutation();
  const [name, setName] = useState<string>();
  const [isAsking, setAsking] = useState(false);
  const { id } = snapshot;
  if (name !== undefined)
    return (
      <TableRow>
        <TableCell colSpan={5}>
          <Box
            component="form"
            sx={{ display: 'flex', gap: 1 }}
            onSubmit={(event) => {
              event.preventDefault();
              if (name.trim() !== '') void rename({ id, name: name.trim() });
              setName(undefined);
            }}
          >
            <TextField
              autoFocus
              label="Name"
              value={name}
              onChange={({ target }) => setName(target.value)}
              slotProps={{ htmlInput: { maxLength: 80 } }}
              sx={{ flex: 1 }}
            />
            <Button type="submit" disabled={name.trim() === ''}>
              Save the name
            </Button>
            <Button onClick={() => setName(undefined)}>Cancel</Button>
          </Box>
        </TableCell>
      </TableRow>
    );
  return (
    <Source
      title={snapshot.name}
      drive={drive}
      read={shownMoment(snapshot.takenAt)}
      isChosen={isChosen}
      choose={choose}
    >
      <Button size="small" disabled={!canWrite} onClick={write}>
        Write …
      </Button>
      <Button size="small" onClick={save}>
        Save as CSV
      </Button>
      <Button size="small" onClick={() => setName(snapshot.name)}>
        Rename
      </Button>
      <Button
        size="small"
        color="error"
        onBlur={() => setAsking(false)}
        onClick={() => (isAsking ? void remove(id) : setAsking(true))}
      >
        {isAsking ? 'Delete it permanently' : 'Delete'}
      </Button>
    </Source>
  );
}
