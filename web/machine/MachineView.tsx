import {
  fieldValueWords,
  fieldWords,
  mergeDocuments,
  newAxis,
  withValueAt,
  axesAmong,
  isAxisRecord,
  isSpindleRecord,
  type AxisRecord,
  type MachineDocument,
  type MachineRecord,
} from '@kavrid/contract';
import { hasGear } from '@kavrid/core/chain';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import {
  Alert,
  Box,
  Button,
  Chip,
  Link,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { axisComputation } from '../member/axisComputation.ts';
import {
  useCreateAxisMutation,
  useDeleteMachineMutation,
  useDuplicateMachineMutation,
  useMachineQuery,
  usePutBackAxisMutation,
  useSaveMachineMutation,
} from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FindingMarks } from '../ui/FindingList.tsx';
import { FormDialog } from '../ui/FormDialog.tsx';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Panel } from '../ui/Panel.tsx';
import { shownUnits } from '../ui/units.ts';
import { MemberButtons } from './MemberButtons.tsx';
import { SpindlesPanel } from './SpindlesPanel.tsx';
import { SharedDevices } from './SharedDevices.tsx';
import { SuppliesPanel } from './SuppliesPanel.tsx';

const ExportDialog = lazy(() =>
  import('../files/ExportDialog.tsx').then((module) => ({ default: module.ExportDialog })),
);

/** The machine at a glance: each axis with what matters most of it. */
export function MachineView() {
  const { machineId = '' } = useParams();
  const { data: machine, error, isLoading, refetch } = useMachineQuery(machineId);
  const [open, setOpen] = useState<'axis' | 'edit' | 'duplicate' | 'export'>();
  const close = () => setOpen(undefined);
  const [save] = useSaveMachineMutation();
  const [duplicate] = useDuplicateMachineMutation();
  const [removeMachine] = useDeleteMachineMutation();
  const navigate = useNavigate();
  if (isLoading) return <Loading what="the machine" />;
  if (error || !machine) return <Failed what="The machine" because={reasonOf(error)} retry={() => void refetch()} />;
  const axes = machine.axes.filter(isAxisRecord);
  const archive = (archived: boolean) =>
    save({ id: machine.id, version: machine.version, document: { ...machine.document, archived } });
  return (
    <Box component="main" sx={{ maxWidth: 1100, mx: 'auto', p: 2 }}>
      <Typography variant="h1" sx={{ overflowWrap: 'anywhere' }}>
        {machine.document.name}{' '}
        {[...(machine.document.archived ? ['archived'] : []), ...machine.document.tags].map((tag) => (
          <Chip key={tag} component="span" size="small" variant="outlined" label={tag} sx={{ ml: 0.5 }} />
        ))}
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 2, overflowWrap: 'anywhere' }}>
        {machine.document.notes}
      </Typography>
      <Panel
        title="Axes"
        aside={
          <Button variant="contained" onClick={() => setOpen('axis')}>
            New axis
          </Button>
        }
      >
        {axes.length === 0 ? (
          <Typography color="text.secondary">
            No axis yet. Add one, then read the plates of its motor and drive into its chain.
          </Typography>
        ) : (
          <Table size="small" aria-label="Axes">
            <TableHead>
              <TableRow>
                {['Axis', 'Gear N/D', 'Steps per unit', 'Highest speed', 'Limited by', 'Findings', ''].map((title) => (
                  <TableCell key={title}>{title}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {axes.map((axis) => (
                <AxisRow key={axis.id} axis={axis} />
              ))}
            </TableBody>
          </Table>
        )}
      </Panel>
      <SpindlesPanel machineId={machine.id} spindles={machine.axes.filter(isSpindleRecord)} />
      <SharedDevices members={machine.axes.map(({ document }) => document)} />
      <SuppliesPanel axes={axesAmong(machine.axes)} />
      <RemovedAxes machine={machine} />
      <Box sx={{ display: 'flex', gap: 1, mt: 1.5 }}>
        <Button onClick={() => setOpen('edit')}>Edit name, tags and notes</Button>
        <Button onClick={() => setOpen('duplicate')}>Duplicate …</Button>
        <Button onClick={() => setOpen('export')}>Export …</Button>
        <Button onClick={() => void archive(!machine.document.archived)}>
          {machine.document.archived ? 'Bring back from the archive' : 'Archive'}
        </Button>
        {machine.document.archived && (
          <Button
            color="error"
            onClick={() => {
              if (
                window.confirm(
                  `Delete ${machine.document.name} with its axes, spindles, runs and revisions? This cannot be undone.`,
                )
              )
                void removeMachine(machine.id).then((done) => !done.error && navigate('/machines'));
            }}
          >
            Delete for good
          </Button>
        )}
      </Box>
      {open === 'edit' && <EditMachine machine={machine} close={close} />}
      {open === 'axis' && <NewAxis machineId={machine.id} close={close} />}
      {open === 'duplicate' && (
        <NameDialog
          title="Duplicate the machine"
          submit="Duplicate"
          initial={`${machine.document.name} (copy)`.slice(0, 80)}
          help="Its axes are copied as they are saved; their runs stay with the original."
          onName={(name) =>
            void duplicate({ id: machine.id, name }).then(
              (made) => made.data && (close(), navigate(`/machines/${made.data.id}`)),
            )
          }
          close={close}
        />
      )}
      {open === 'export' && (
        <Suspense>
          <ExportDialog id={machine.id} name={machine.document.name} close={close} />
        </Suspense>
      )}
    </Box>
  );
}

/** Axes taken out of the machine; with all that belongs to them they wait to be put back. */
function RemovedAxes({ machine }: { readonly machine: MachineRecord }) {
  const [putBack] = usePutBackAxisMutation();
  if (machine.removedAxes.length === 0) return null;
  return (
    <Typography component="div" variant="body2" color="text.secondary" sx={{ mt: 1 }}>
      Removed:{' '}
      {machine.removedAxes.map((axis) => (
        <Chip
          key={axis.id}
          size="small"
          label={`${axis.name}: put back`}
          onClick={() => void putBack(axis.id)}
          sx={{ mr: 0.5 }}
        />
      ))}
    </Typography>
  );
}

function EditMachine({ machine, close }: { readonly machine: MachineRecord; readonly close: () => void }) {
  const [base, setBase] = useState(machine);
  const [document, setDocument] = useState(machine.document);
  const [save, { error, isLoading }] = useSaveMachineMutation();
  const [clash, setClash] = useState<string>();
  const [tagText, setTagText] = useState<string>();
  const edit = (change: Partial<MachineDocument>) => setDocument((now) => ({ ...now, ...change }));
  const submit = async () => {
    const sent = { ...document, name: document.name.trim() };
    const saved = await save({ id: machine.id, version: base.version, document: sent });
    if (saved.data) return close();
    const current = (saved.error as { data?: { current?: MachineRecord } }).data?.current;
    if (!current) return;
    // Saved elsewhere meanwhile: put together; fields edited by both are shown before they are sent again.
    const merge = mergeDocuments(base.document, sent, current.document);
    const merged = merge.conflicts.reduce((at, { path, mine }) => withValueAt(at, path, mine), merge.document);
    setBase(current);
    setDocument(merged);
    setClash(
      merge.conflicts
        .map(({ path, theirs }) => `${fieldWords(path)} is now “${fieldValueWords(theirs)}” there`)
        .join('; ') || 'the edits of both are put together here',
    );
  };
  return (
    <FormDialog
      title="Name, tags and notes"
      submit="Save"
      width="sm"
      disabled={document.name.trim() === '' || isLoading}
      onSubmit={() => void submit()}
      close={close}
    >
      {clash && <Alert severity="warning">Someone else saved meanwhile: {clash}. Look, and save again.</Alert>}
      <TextField
        autoFocus
        label="Name"
        value={document.name}
        onChange={(event) => edit({ name: event.target.value })}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        label="Tags"
        value={tagText ?? document.tags.join(', ')}
        helperText="Separated by commas; machines are found by them."
        onChange={(event) => {
          setTagText(event.target.value);
          edit({ tags: tagsOf(event.target.value) });
        }}
        slotProps={{ htmlInput: { maxLength: 600 } }}
      />
      <TextField
        label="Notes"
        multiline
        minRows={3}
        value={document.notes}
        onChange={(event) => edit({ notes: event.target.value })}
        error={error !== undefined && !clash}
        helperText={error && !clash ? reasonOf(error) : undefined}
        slotProps={{ htmlInput: { maxLength: 4000 } }}
      />
    </FormDialog>
  );
}

const tagsOf = (text: string): string[] =>
  [
    ...new Set(
      text
        .split(',')
        .map((tag) => tag.trim().slice(0, 30))
        .filter(Boolean),
    ),
  ].slice(0, 20);

function AxisRow({ axis }: { readonly axis: AxisRecord }) {
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const { results, findings, input } = axisComputation(axis.document, lengths);
  const units = shownUnits(input, lengths);
  const isGeared = hasGear(input.command);
  const steps = valueOf(results.stepsPerUnit);
  const speed = valueOf(results.highestSpeed);
  return (
    <TableRow hover>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>
        <Link component={RouterLink} to={memberPath(axis.machineId, axis.id, 'axis')}>
          {axis.document.name}
        </Link>
      </TableCell>
      <TableCell>{isGeared ? `${axis.document.gear.numerator} / ${axis.document.gear.denominator}` : '—'}</TableCell>
      <TableCell>
        {!isGeared
          ? '—'
          : steps
            ? `${formatNumber(units.shown(toNumber(steps), 'pulses/{u}'))} ${units.name('pulses/{u}')}`
            : 'unknown'}
      </TableCell>
      <TableCell>{speed === undefined ? 'unknown' : units.quantity(speed, '{u}/s')}</TableCell>
      <TableCell>{valueOf(results.bindingLimits)?.join(', ') ?? ''}</TableCell>
      <TableCell>
        <FindingMarks findings={findings} />
      </TableCell>
      <MemberButtons member={axis} />
    </TableRow>
  );
}

function NewAxis({ machineId, close }: { readonly machineId: string; readonly close: () => void }) {
  const [kind, setKind] = useState<'linear' | 'rotary' | 'dosing'>('linear');
  const [create, { error, isLoading }] = useCreateAxisMutation();
  const navigate = useNavigate();
  const submit = async (name: string) => {
    const made = await create({ machineId, document: newAxis(name, kind) });
    if (made.data) await navigate(memberPath(machineId, made.data.id, 'axis'));
  };
  return (
    <NameDialog
      title="New axis"
      submit="Create"
      error={error ? reasonOf(error) : undefined}
      busy={isLoading}
      onName={(name) => void submit(name)}
      close={close}
    >
      <ChoiceField
        label="Type of motion"
        value={kind}
        onChange={setKind}
        choices={[
          { value: 'linear', label: 'Along a line (mm or inch)' },
          { value: 'rotary', label: 'Around an axis (degrees or revolutions)' },
          { value: 'dosing', label: 'A dosing pump (mL)' },
        ]}
      />
    </NameDialog>
  );
}
