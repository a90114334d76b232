import type { DriveParameter } from '@kavrid/core/drive';
import { Box, ButtonBase, Popover, TableCell, TextField, Tooltip, Typography } from '@mui/material';
import { useState } from 'react';
import { useEdit, useMember } from '../member/memberContext.ts';

/** The name of a drive value, with the user's own wording and note below it; a click opens both for editing. */
export function ValueName({ parameter }: { readonly parameter: DriveParameter }) {
  const { key, label, help, object, address, takesEffect } = parameter;
  const { document } = useMember();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const { notes } = document.keying;
  const own = [notes[wordingKey(key)], notes[noteKey(key)]].filter(Boolean).join(' · ');
  return (
    <TableCell sx={{ whiteSpace: 'nowrap', maxWidth: 230 }}>
      <Tooltip
        describeChild
        title={`${help} ${object ? `Object ${object}. ` : ''}Register ${address}. Click for your own wording and note.`}
      >
        <ButtonBase
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{ font: 'inherit', textAlign: 'left', borderRadius: 0.5, '&:focus-visible': { outline: '2px solid' } }}
        >
          {label}
          {takesEffect === 'after restart' ? ' ↻' : ''}
        </ButtonBase>
      </Tooltip>
      {own && (
        <Box title={own} sx={{ fontSize: 11.5, color: 'text.secondary', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {own}
        </Box>
      )}
      {anchor && (
        <Popover
          open
          anchorEl={anchor}
          onClose={() => setAnchor(undefined)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          <Box sx={{ display: 'grid', gap: 1, p: 1.5, width: 340 }}>
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {label}
            </Typography>
            {help && <Typography variant="body2">{help}</Typography>}
            <OwnText label="Name in the drive’s own manual" noteKey={wordingKey(key)} />
            <OwnText label="Note" noteKey={noteKey(key)} />
          </Box>
        </Popover>
      )}
    </TableCell>
  );
}

const noteKey = (key: string) => `value/${key}`.slice(0, 60);
const wordingKey = (key: string) => `wording/${key}`.slice(0, 60);

function OwnText({ label, noteKey: key }: { readonly label: string; readonly noteKey: string }) {
  const { document } = useMember();
  const edit = useEdit();
  const { notes } = document.keying;
  return (
    <TextField
      label={label}
      value={notes[key] ?? ''}
      onChange={({ target: { value } }) => {
        const { [key]: _, ...others } = notes;
        edit(['keying', 'notes'], value === '' ? others : { ...others, [key]: value });
      }}
      slotProps={{ htmlInput: { maxLength: 300 } }}
    />
  );
}
