import type { LinkLive } from '@kavrid/contract';
import { Alert, Button } from '@mui/material';
import { command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';

const tight = { py: 0, px: 1, mb: 0.5, '& .MuiAlert-message': { fontSize: 12.5 } } as const;

/** Why this window may not act on the drive now, and the deliberate way to do so. */
export function HoldNotice({ live }: { readonly live: LinkLive | undefined }) {
  const dispatch = useAppDispatch();
  if (live?.link !== 'up') return null;
  const { identity } = live;
  return (
    <>
      {identity && !identity.isConfirmed && (
        <Alert
          severity="warning"
          icon={false}
          sx={tight}
          action={
            <Button size="small" onClick={() => dispatch(command({ type: 'confirmIdentity', mark: identity.mark }))}>
              Confirm drive
            </Button>
          }
        >
          This drive reports no serial number. Check that it is the right one.
        </Alert>
      )}
      {live.isWatchOnly && (
        <Alert severity="info" icon={false} sx={tight}>
          The drive is enabled by its terminals or by another master. It is only watched from here.
        </Alert>
      )}
      {live.holder === 'another window' && (
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
          Another window holds this drive. Taking over stops what it moves.
        </Alert>
      )}
      {live.unchecked.length > 0 && (
        <Alert severity="warning" icon={false} sx={tight}>
          {`Not checked, because the register map lacks it: ${live.unchecked.join(', ')}.`}
        </Alert>
      )}
    </>
  );
}
