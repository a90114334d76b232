import { sharedDevices, type MemberDocument } from '@kavrid/contract';
import { Alert } from '@mui/material';

/** Members of the machine that name the same drive. */
export function SharedDevices({ members }: { readonly members: readonly MemberDocument[] }) {
  return sharedDevices(members).map(({ address, names }) => (
    <Alert key={address} severity="warning" sx={{ mt: 1, py: 0 }}>
      {`${names.join(' and ')} are linked to the same drive, ${address}. Only one of them can use it at a time; check host, port and unit.`}
    </Alert>
  ));
}
