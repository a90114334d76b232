import {
  fieldValueWords,
  fieldWords,
  mergeDocuments,
  withValueAt,
  type MachineDocument,
  type MachineRecord,
} from '@kavrid/contract';
import { Alert, TextField } from '@mui/material';
import { useState } from 'react';
import { useSaveMachineMutation } from '../store/api.ts';
import { FormDialog } from '../ui/FormDialog.tsx';
import { reasonOf } from '../ui/Loading.tsx';

export function EditMachine({ machine, close }: { readonly machine: MachineRecord; readonly close: () => void }) {
  const [base, setBase] = useState(machine);
  const [document, setDocument] = useState(machine.document);
  const [save, { error, isLoading }] = useSaveMachineMutation();
  const [clash, setClash] = useState<string>();
  const [tagText, setTagText] = useState<string>();
  const edit = (change: Partial<MachineDocument>) => setDocument((now) => ({ ...now, ...change }));
  const submit = async () => {
    const sent = { ...document, name: document.name.trim() };
    const saved = await save({ id: machine.id, version: base.version, document: sent });
    if (saved.data) return close();
    const current = (saved.error as { data?: { current?: MachineRecord } }).data?.current;
    if (!current) return;
    // Saved elsewhere meanwhile: put together; fields edited by both are shown before they are sent again.
    const merge = mergeDocuments(base.document, sent, current.document);
    const merged = merge.conflicts.reduce((at, { path, mine }) => withValueAt(at, path, mine), merge.document);
    setBase(current);
    setDocument(merged);
    setClash(
      merge.conflicts.map(({ path, theirs }) => `${fieldWords(path)} is now “${fieldValueWords(theirs)}”`).join('; ') ||
        'the edits of both are combined here',
    );
  };
  return (
    <FormDialog
      title="Name, tags and notes"
      submit="Save"
      width="sm"
      disabled={document.name.trim() === '' || isLoading}
      onSubmit={() => void submit()}
      close={close}
    >
      {clash && (
        <Alert severity="warning">Someone else has saved in the meantime: {clash}. Check, and save again.</Alert>
      )}
      <TextField
        autoFocus
        label="Name"
        value={document.name}
        onChange={(event) => edit({ name: event.target.value })}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        label="Tags"
        value={tagText ?? document.tags.join(', ')}
        helperText="Separated by commas; used to find machines."
        onChange={(event) => {
          setTagText(event.target.value);
          edit({ tags: tagsOf(event.target.value) });
        }}
        slotProps={{ htmlInput: { maxLength: 600 } }}
      />
      <TextField
        label="Notes"
        multiline
        minRows={3}
        value={document.notes}
        onChange={(event) => edit({ notes: event.target.value })}
        error={error !== undefined && !clash}
        helperText={error && !clash ? reasonOf(error) : undefined}
        slotProps={{ htmlInput: { maxLength: 4000 } }}
      />
    </FormDialog>
  );
}

const tagsOf = (text: string): string[] =>
  [
    ...new Set(
      text
        .split(',')
        .map((tag) => tag.trim().slice(0, 30))
        .filter(Boolean),
    ),
  ].slice(0, 20);
