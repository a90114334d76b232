import { axesAmong, isAxisRecord, isSpindleRecord } from '@kavrid/contract';
import { Box, Button, Chip, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import {
  useDeleteMachineMutation,
  useDuplicateMachineMutation,
  useMachineQuery,
  useSaveMachineMutation,
} from '../store/api.ts';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Panel } from '../ui/Panel.tsx';
import { SpindlesPanel } from './SpindlesPanel.tsx';
import { SharedDevices } from './SharedDevices.tsx';
import { AlarmChain } from './AlarmChain.tsx';
import { SuppliesPanel } from './SuppliesPanel.tsx';
import { RemovedAxes } from './RemovedAxes.tsx';
import { EditMachine } from './EditMachine.tsx';
import { AxisRow } from './AxisRow.tsx';
import { NewAxis } from './NewAxis.tsx';

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
            No axis yet. Add one, then enter the nameplate data of its motor and drive in its chain.
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
      <AlarmChain axes={axesAmong(machine.axes)} />
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
          help="Its axes are copied as last saved; their runs stay with the original."
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
