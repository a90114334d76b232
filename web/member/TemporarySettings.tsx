import { sameJson, type LinkLive } from '@kavrid/contract';
import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { command } from '../store/liveLine.ts';
import { linkLive } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { useLinkLive } from './useLive.ts';

const none: LinkLive['temporary'] = [];

/** Drive values that a test has changed, shown until they are restored. */
export function TemporarySettings() {
  const [asking, setAsking] = useState(false);
  const settings = useAppSelector((state) => linkLive(state)?.temporary ?? none, sameJson);
  const { isOff, isHeldElsewhere } = useLinkLive((live) => ({
    isOff: live?.deviceState !== undefined && live.deviceState !== 'operation enabled' && !live.isStopping,
    isHeldElsewhere: live?.holder === 'another window',
  }));
  const here = settings.filter(({ isHere }) => isHere);
  const elsewhere = settings.filter(({ isHere }) => !isHere);
  if (settings.length === 0) return null;
  return (
    <Box sx={{ my: 0.5, fontSize: 12.5 }}>
      {here.map(({ key, label, original, temporary }) => (
        <Box key={key}>{`${label}: ${temporary} for now, instead of ${original}.`}</Box>
      ))}
      {elsewhere.map(({ key, label, address, original }) => (
        <Box key={`${key} ${address}`} sx={{ color: 'warning.main' }}>
          {`${label} at ${address} was left changed; it was ${original}. Connect to that drive to restore it.`}
        </Box>
      ))}
      {here.length > 0 && (
        <Button size="small" disabled={!isOff || isHeldElsewhere} onClick={() => setAsking(true)}>
          Restore …
        </Button>
      )}
      {here.length > 0 && !isOff && (
        <Typography component="span" variant="body2" color="text.secondary">
          with the motor off
        </Typography>
      )}
      {asking && <RestoreDialog labels={here.map(({ label }) => label)} close={() => setAsking(false)} />}
    </Box>
  );
}

function RestoreDialog({ labels, close }: { readonly labels: readonly string[]; readonly close: () => void }) {
  const [isQuiet, setQuiet] = useState(false);
  const dispatch = useAppDispatch();
  return (
    <Dialog open onClose={close}>
      <DialogTitle>Restore: {labels.join(', ')}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 1 }}>
          The drive follows the host again as soon as its command source is restored. A command present there moves the
          axis when the host enables the drive.
        </Typography>
        <FormControlLabel
          control={<Checkbox checked={isQuiet} onChange={(_, checked) => setQuiet(checked)} />}
          label="The host’s enable is off, and its command is zero."
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!isQuiet}
          onClick={() => {
            dispatch(command({ type: 'restore', isHostQuiet: true }));
            close();
          }}
        >
          Restore
        </Button>
      </DialogActions>
    </Dialog>
  );
}
