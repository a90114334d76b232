import type { MemberRecord } from '@kavrid/contract';
import { Button, TableCell } from '@mui/material';
import { useDuplicateAxisMutation, useRemoveAxisMutation } from '../store/api.ts';

/** Duplicates or removes an axis or a spindle. */
export function MemberButtons({ member }: { readonly member: MemberRecord }) {
  const [remove] = useRemoveAxisMutation();
  const [duplicate] = useDuplicateAxisMutation();
  const { name, kind } = member.document;
  return (
    <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
      <Button
        aria-label={`Duplicate ${kind} ${name}`}
        onClick={() => void duplicate({ id: member.id, name: `${name} (copy)`.slice(0, 80) })}
      >
        Duplicate
      </Button>
      <Button aria-label={`Remove ${kind} ${name}`} onClick={() => void remove(member.id)}>
        Remove
      </Button>
    </TableCell>
  );
}
