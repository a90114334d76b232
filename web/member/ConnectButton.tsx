import { Button } from '@mui/material';
import { act } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { useMember } from './memberContext.ts';
import { useLinkLive } from './useLive.ts';

/** Opens the link to the drive. */
export function ConnectButton() {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  const isConnecting = useLinkLive((live) => live?.link === 'connecting');
  return (
    <Button
      variant="contained"
      disabled={isConnecting}
      onClick={() => void dispatch(act(memberId, (version) => ({ type: 'connect', version })))}
      sx={{ mb: 1 }}
    >
      Connect
    </Button>
  );
}
