import type { LinkLive } from '@kavrid/contract';
import { Typography } from '@mui/material';

/** What the drive or its link have to say. */
export function DriveNews({ live }: { readonly live: LinkLive | undefined }) {
  const message = live?.link === 'up' ? live.message : '';
  return (
    <>
      {live?.fault && (
        <Typography role="alert" variant="body2" color="error" sx={{ mb: 0.5 }}>
          {live.fault}
        </Typography>
      )}
      {message && (
        <Typography role="alert" variant="body2" color="warning.main" sx={{ mb: 0.5 }}>
          {message}
        </Typography>
      )}
    </>
  );
}
