import {
  valueAt,
  type DocumentPath,
  type EntryOf,
  type LibraryEntry,
  type LibraryKind,
  type RuleName,
} from '@kavrid/contract';
import { Box, TextField } from '@mui/material';
import type { ReactNode } from 'react';
import { NumberInput } from '../ui/NumberInput.tsx';

/** Fields of a shelf’s entry. */
export interface ShelfFields<K extends LibraryKind> {
  readonly entry: EntryOf[K];
  readonly inputs: ReturnType<typeof entryInputs>;
  readonly change: ChangeEntry;
}

export type ChangeEntry = (path: DocumentPath, value: unknown) => void;

export const EntryGrid = ({ children }: { readonly children: ReactNode }) => (
  <Box
    sx={{
      display: 'grid',
      gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))',
      gap: 1.25,
      alignItems: 'start',
      // Names are long.
      '& > :first-of-type': { gridColumn: 'span 2' },
    }}
  >
    {children}
  </Box>
);

/** Fields of an entry by the names of its document. */
export function entryInputs(
  entry: LibraryEntry['entry'],
  change: ChangeEntry,
  unread: Readonly<Record<string, string>>,
  keepUnread: (field: string, text: string | undefined, before: number | null) => void,
) {
  const number = (label: string, field: string, rule: RuleName, shownIn?: { unit: string; of: number }) => (
    <NumberInput
      label={label}
      rule={rule}
      value={valueAt(entry, field.split('/')) as number | null}
      shownIn={shownIn}
      unread={unread[field]}
      onUnread={(text, before) => {
        if (text !== undefined) keepUnread(field, text, before);
        else if (unread[field] !== undefined) keepUnread(field, undefined, before);
      }}
      onValue={(value) => change(field.split('/'), value)}
    />
  );
  const text = (label: string, field: string, help?: string) => (
    <TextField
      label={label}
      value={valueAt(entry, field.split('/')) as string}
      helperText={help}
      onChange={(event) => change(field.split('/'), event.target.value)}
      slotProps={{ htmlInput: { maxLength: 80 } }}
    />
  );
  const notes = (
    <>
      <TextField
        label="Part numbers"
        value={entry.partNumbers}
        helperText="Commas between them; ? for one place of the ordering code, * for any number of places."
        onChange={(event) => change(['partNumbers'], event.target.value)}
        slotProps={{ htmlInput: { maxLength: 400 } }}
        sx={{ mt: 1.25 }}
      />
      <TextField
        label="Notes"
        multiline
        minRows={2}
        value={entry.notes}
        onChange={(event) => change(['notes'], event.target.value)}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        sx={{ mt: 1.25 }}
      />
    </>
  );
  return { number, text, notes };
}
