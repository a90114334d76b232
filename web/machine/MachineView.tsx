import { newAxis, type AxisRecord, type MachineRecord } from '@kavrid/contract';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Link,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import { axisComputation } from '../axis/axisComputation.ts';
import {
  useCreateAxisMutation,
  useDeleteAxisMutation,
  useDeleteMachineMutation,
  useMachineQuery,
  useSaveMachineMutation,
} from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { severityLook } from '../ui/FindingList.tsx';
import { Icon } from '../ui/Icon.tsx';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { Panel } from '../ui/Panel.tsx';
import { shownUnits } from '../ui/units.ts';

/** The machine at a glance: each axis with what matters most of it. */
export function MachineView() {
  const { machineId = '' } = useParams();
  const { data: machine, error, isLoading, refetch } = useMachineQuery(machineId);
  const [adding, setAdding] = useState(false);
  const [editing, setEditing] = useState(false);
  const [removeMachine] = useDeleteMachineMutation();
  const navigate = useNavigate();
  if (isLoading) return <Loading what="the machine" />;
  if (error || !machine) return <Failed what="The machine" because={reasonOf(error)} retry={() => void refetch()} />;
  return (
    <Box component="main" sx={{ maxWidth: 1100, mx: 'auto', p: 3 }}>
      <Typography variant="h1" sx={{ overflowWrap: 'anywhere' }}>
        {machine.document.name}
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 2, overflowWrap: 'anywhere' }}>
        {machine.document.notes}
      </Typography>
      <Panel
        title="Axes"
        aside={
          <Button variant="contained" onClick={() => setAdding(true)}>
            New axis
          </Button>
        }
      >
        {machine.axes.length === 0 ? (
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
              {machine.axes.map((axis) => (
                <AxisRow key={axis.id} axis={axis} />
              ))}
            </TableBody>
          </Table>
        )}
      </Panel>
      <Button sx={{ mt: 2, mr: 1 }} onClick={() => setEditing(true)}>
        Edit name and notes
      </Button>
      <Button
        color="error"
        sx={{ mt: 2 }}
        onClick={() => {
          if (!window.confirm(`Delete ${machine.document.name} with its axes and runs? This cannot be undone.`)) return;
          void removeMachine(machine.id).then(() => navigate('/machines'));
        }}
      >
        Delete this machine
      </Button>
      {editing && <EditMachine machine={machine} close={() => setEditing(false)} />}
      {adding && <NewAxis machineId={machine.id} close={() => setAdding(false)} />}
    </Box>
  );
}

function EditMachine({ machine, close }: { readonly machine: MachineRecord; readonly close: () => void }) {
  const [name, setName] = useState(machine.document.name);
  const [notes, setNotes] = useState(machine.document.notes);
  const [save, { error, isLoading }] = useSaveMachineMutation();
  const submit = async () => {
    const saved = await save({ id: machine.id, version: machine.version, document: { name: name.trim(), notes } });
    if (saved.data) close();
  };
  return (
    <Dialog open onClose={close} aria-labelledby="edit-machine" fullWidth maxWidth="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <DialogTitle id="edit-machine">Name and notes</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2 }}>
          <TextField
            autoFocus
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            sx={{ mt: 1 }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          <TextField
            label="Notes"
            multiline
            minRows={3}
            value={notes}
            onChange={(event) => setNotes(event.target.value)}
            error={error !== undefined}
            helperText={error ? reasonOf(error) : undefined}
            slotProps={{ htmlInput: { maxLength: 4000 } }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === '' || isLoading}>
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

function AxisRow({ axis }: { readonly axis: AxisRecord }) {
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const { results, findings, input } = axisComputation(axis.document, lengths);
  const units = shownUnits(input.axisUnit, lengths);
  const [remove] = useDeleteAxisMutation();
  const steps = valueOf(results.stepsPerUnit);
  const speed = valueOf(results.highestSpeed);
  return (
    <TableRow hover>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>
        <Link component={RouterLink} to={`/machines/${axis.machineId}/axes/${axis.id}/chain`}>
          {axis.document.name}
        </Link>
      </TableCell>
      <TableCell>
        {axis.document.gear.numerator} / {axis.document.gear.denominator}
      </TableCell>
      <TableCell>
        {steps
          ? `${formatNumber(units.shown(toNumber(steps), 'pulses/{u}'))} ${units.name('pulses/{u}')}`
          : 'not known yet'}
      </TableCell>
      <TableCell>{speed === undefined ? 'not known yet' : units.quantity(speed, '{u}/s')}</TableCell>
      <TableCell>{valueOf(results.bindingLimits)?.join(', ') ?? ''}</TableCell>
      <TableCell>
        {findings.map((finding) => (
          <Icon
            key={finding.id}
            path={severityLook[finding.severity].icon}
            sx={{ color: severityLook[finding.severity].colour }}
            titleAccess={finding.message}
          />
        ))}
      </TableCell>
      <TableCell align="right">
        <Button
          size="small"
          color="error"
          aria-label={`Delete axis ${axis.document.name}`}
          onClick={() =>
            window.confirm(`Delete ${axis.document.name} with its runs? This cannot be undone.`) && void remove(axis.id)
          }
        >
          Delete
        </Button>
      </TableCell>
    </TableRow>
  );
}

function NewAxis({ machineId, close }: { readonly machineId: string; readonly close: () => void }) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<'linear' | 'rotary' | 'dosing'>('linear');
  const [create, { error, isLoading }] = useCreateAxisMutation();
  const navigate = useNavigate();
  const submit = async () => {
    const made = await create({ machineId, document: newAxis(name.trim(), kind) });
    if (made.data) await navigate(`/machines/${machineId}/axes/${made.data.id}/chain`);
  };
  return (
    <Dialog open onClose={close} aria-labelledby="new-axis" fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <DialogTitle id="new-axis">New axis</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2 }}>
          <TextField
            autoFocus
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={error !== undefined}
            helperText={error ? reasonOf(error) : undefined}
            sx={{ mt: 1 }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          <ChoiceField
            label="What it moves"
            value={kind}
            onChange={setKind}
            choices={[
              { value: 'linear', label: 'Along a line (mm or inch)' },
              { value: 'rotary', label: 'Around an axis (degrees or revolutions)' },
              { value: 'dosing', label: 'A dosing pump (mL)' },
            ]}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === '' || isLoading}>
            Create
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
