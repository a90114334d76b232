import { Alert, Button } from '@mui/material';
import { command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { useLinkLive } from './useLive.ts';

const tight = { py: 0, px: 1, mb: 0.5, '& .MuiAlert-message': { fontSize: 12.5 } } as const;

/** Why this window may not act on the drive now, and the deliberate way to do so. */
export function HoldNotice() {
  const dispatch = useAppDispatch();
  const { isUp, mark, isConfirmed, isWatchOnly, holder, unchecked } = useLinkLive((live) => ({
    isUp: live?.link === 'up',
    mark: live?.identity?.mark,
    isConfirmed: live?.identity?.isConfirmed,
    isWatchOnly: live?.isWatchOnly,
    holder: live?.holder,
    unchecked: live?.link === 'up' ? live.unchecked.join(', ') : '',
  }));
  if (!isUp) return null;
  return (
    <>
      {mark !== undefined && !isConfirmed && (
        <Alert
          severity="warning"
          icon={false}
          sx={tight}
          action={
            <Button size="small" onClick={() => dispatch(command({ type: 'confirmIdentity', mark }))}>
              Confirm drive
            </Button>
          }
        >
          This drive reports no serial number. Check that it is the right one.
        </Alert>
      )}
      {isWatchOnly && (
        <Alert severity="info" icon={false} sx={tight}>
          The drive is enabled by its terminals or by another master. It is only watched from here.
        </Alert>
      )}
      {holder === 'another window' && (
        <Alert
          severity="info"
          icon={false}
          sx={tight}
          action={
            <Button size="small" onClick={() => dispatch(command({ type: 'takeOver' }))}>
              Take over
            </Button>
          }
        >
          Another window controls this drive. Taking over stops any motion.
        </Alert>
      )}
      {unchecked && (
        <Alert severity="warning" icon={false} sx={tight}>
          {`Not checked, because the register map does not have it: ${unchecked}.`}
        </Alert>
      )}
    </>
  );
}
