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
import { Link as RouterLink, useNavigate } from 'react-router';
import { useCreateMachineMutation, useMachinesQuery } from '../store/api.ts';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { Panel } from '../ui/Panel.tsx';

export function MachinesView() {
  const { data: machines, error, isLoading, refetch } = useMachinesQuery();
  const [adding, setAdding] = useState(false);
  if (isLoading) return <Loading what="the machines" />;
  if (error || !machines) return <Failed what="The machines" because={reasonOf(error)} retry={() => void refetch()} />;
  return (
    <Box component="main" sx={{ maxWidth: 980, mx: 'auto', p: 3 }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Machines
      </Typography>
      <Panel
        title={machines.length === 1 ? '1 machine' : `${machines.length} machines`}
        aside={
          <Button variant="contained" onClick={() => setAdding(true)}>
            New machine
          </Button>
        }
      >
        {machines.length === 0 ? (
          <Typography color="text.secondary">
            Nothing here yet. A machine holds its axes: start with “New machine”, then add an axis and read its plates.
          </Typography>
        ) : (
          <Table size="small" aria-label="Machines">
            <TableHead>
              <TableRow>
                <TableCell>Machine</TableCell>
                <TableCell>Axes</TableCell>
                <TableCell align="right">Last saved</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {machines.map((machine) => (
                <TableRow key={machine.id} hover>
                  <TableCell sx={{ maxWidth: 360, overflowWrap: 'anywhere' }}>
                    <Link component={RouterLink} to={`/machines/${machine.id}`}>
                      {machine.name}
                    </Link>
                  </TableCell>
                  <TableCell>
                    {machine.axes.map((axis) => (
                      <Link
                        key={axis.id}
                        component={RouterLink}
                        to={`/machines/${machine.id}/axes/${axis.id}/chain`}
                        sx={{ mr: 1.5 }}
                      >
                        {axis.name}
                      </Link>
                    ))}
                  </TableCell>
                  <TableCell align="right">{new Date(machine.updatedAt).toLocaleString()}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </Panel>
      {adding && <NewMachine close={() => setAdding(false)} />}
    </Box>
  );
}

function NewMachine({ close }: { readonly close: () => void }) {
  const [name, setName] = useState('');
  const [create, { error, isLoading }] = useCreateMachineMutation();
  const navigate = useNavigate();
  const submit = async () => {
    const made = await create({ name: name.trim(), notes: '' });
    if (made.data) await navigate(`/machines/${made.data.id}`);
  };
  return (
    <Dialog open onClose={close} aria-labelledby="new-machine" fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <DialogTitle id="new-machine">New machine</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={error !== undefined}
            helperText={error ? reasonOf(error) : 'What the people at the machine call it.'}
            sx={{ mt: 1 }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
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
