import { Typography } from '@mui/material';
import { useLinkLive } from './useLive.ts';

/** What the drive or its link have to say. */
export function DriveNews() {
  const { fault, message } = useLinkLive((live) => ({
    fault: live?.fault,
    message: live?.link === 'up' ? live.message : '',
  }));
  return (
    <>
      {fault && (
        <Typography role="alert" variant="body2" color="error" sx={{ mb: 0.5 }}>
          {fault}
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
