import { Alert, Box, Button, LinearProgress, Typography } from '@mui/material';

export function Loading({ what }: { readonly what: string }) {
  return (
    <Box role="status" sx={{ p: 3, maxWidth: 420 }}>
      <Typography gutterBottom>Reading {what} …</Typography>
      <LinearProgress aria-label={`Reading ${what}`} />
    </Box>
  );
}

export function Failed({
  what,
  because,
  retry,
}: {
  readonly what: string;
  readonly because: string;
  readonly retry: () => void;
}) {
  return (
    <Alert severity="error" sx={{ m: 3, maxWidth: 640 }} action={<Button onClick={retry}>Try again</Button>}>
      {what} could not be read: {because}
    </Alert>
  );
}

/** What went wrong, out of whatever a request threw. */
export function reasonOf(error: unknown): string {
  const known = error as { data?: { title?: string; errors?: readonly { detail: string }[] }; status?: unknown };
  const details = known.data?.errors?.map((each) => each.detail).join(' ');
  if (known.data?.title) return details ? `${known.data.title} ${details}` : known.data.title;
  return known.status === 'FETCH_ERROR' ? 'the server does not respond.' : 'no reason was given.';
}
