import type { MachineRecord } from '@kavrid/contract';
import { Chip, Typography } from '@mui/material';
import { usePutBackAxisMutation } from '../store/api.ts';

/** Axes taken out of the machine; with all that belongs to them they wait to be put back. */
export function RemovedAxes({ machine }: { readonly machine: MachineRecord }) {
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
