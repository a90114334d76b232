import { baudRates, type LinkDocument } from '@kavrid/contract';
import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  LinearProgress,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { useEdit, useMember } from '../member/memberContext.ts';
import { command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Hint } from '../ui/fieldParts.tsx';

const searchedBauds = baudRates.filter((baud) => baud >= 9600);
const widest = { tcp: [0, 247], serial: [1, 247] } as const satisfies Record<LinkDocument['kind'], readonly number[]>;

const whole = (text: string, [least, most]: readonly [number, number]): number | undefined => {
  const value = /^\d{1,3}$/.test(text.trim()) ? Number(text) : NaN;
  return value >= least && value <= most ? value : undefined;
};

/** Asks the addresses of a line, one after the other, who is there. It only reads. */
export function FindDevicesDialog({ close }: { readonly close: () => void }) {
  const { document } = useMember();
  const { link } = document;
  const edit = useEdit();
  const dispatch = useAppDispatch();
  const found = useAppSelector((state) => state.live.found);
  const isUp = useAppSelector((state) => state.live.server === 'up');
  const [from, setFrom] = useState('1');
  const [to, setTo] = useState('10');
  const [isEveryBaud, setEveryBaud] = useState(false);
  const [hasBegun, setBegun] = useState(false);
  const [first, last] = [whole(from, widest[link.kind]), whole(to, widest[link.kind])];
  const isPossible = isUp && first !== undefined && last !== undefined && first <= last;
  const shown = hasBegun ? found : undefined;
  const isRunning = shown?.isRunning === true;
  const end = () => void dispatch(command({ type: 'endSearch' }));
  const begin = () => {
    if (first === undefined || last === undefined) return;
    setBegun(true);
    const bauds = link.kind === 'tcp' ? [] : isEveryBaud ? searchedBauds : [link.baud];
    dispatch(command({ type: 'findDevices', order: { link, bauds, from: first, to: last } }));
  };
  const leave = () => {
    if (isRunning) end();
    close();
  };
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="sm">
      <DialogTitle>Find devices</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.25 }}>
        <Hint>
          Reads one register at each address and lists who answers. Nothing is written. Do not search a line on which
          another master is working.
        </Hint>
        <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
          {link.kind === 'tcp'
            ? `On ${link.host}, TCP port ${link.port}`
            : `On ${link.path}, parity ${link.parity}, ${link.stopBits} stop bit${link.stopBits === 1 ? '' : 's'}`}
        </Typography>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
          <TextField
            label="From address"
            value={from}
            error={first === undefined}
            onChange={({ target }) => setFrom(target.value)}
          />
          <TextField
            label="To address"
            value={to}
            error={last === undefined || (first !== undefined && last < first)}
            onChange={({ target }) => setTo(target.value)}
          />
        </Box>
        {link.kind === 'serial' && (
          <FormControlLabel
            control={<Checkbox checked={isEveryBaud} onChange={(_, checked) => setEveryBaud(checked)} />}
            label={`Try every baud rate from 9600 to 230400, not only ${link.baud}`}
          />
        )}
        {shown && (
          <>
            <LinearProgress
              variant="determinate"
              aria-label="Progress of the search"
              value={shown.total > 0 ? (100 * shown.done) / shown.total : 0}
            />
            <Typography role="status" variant="body2">
              {`${shown.done} of ${shown.total} asked, ${shown.devices.length} answered${isRunning ? ' …' : '.'}`}
            </Typography>
            {shown.because !== undefined && <Alert severity="error">The search has ended: {shown.because}.</Alert>}
            {shown.devices.map(({ unit, baud, answer }) => (
              <Box key={`${unit}/${baud}`} sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
                <Typography sx={{ flex: 1 }}>
                  Unit {unit}
                  {baud !== undefined && `, ${baud} baud`}: answers with {answer}
                </Typography>
                <Button
                  size="small"
                  disabled={isRunning}
                  onClick={() => {
                    edit(
                      ['link'],
                      link.kind === 'serial' ? { ...link, unit, baud: baud ?? link.baud } : { ...link, unit },
                    );
                    leave();
                  }}
                >
                  Use it
                </Button>
              </Box>
            ))}
          </>
        )}
      </DialogContent>
      <DialogActions>
        {isRunning ? (
          <Button onClick={end}>End the search</Button>
        ) : (
          <Button variant="contained" disabled={!isPossible} onClick={begin}>
            Search
          </Button>
        )}
        <Button onClick={leave}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
