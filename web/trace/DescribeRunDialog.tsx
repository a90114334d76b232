import type { RunSummary } from '@kavrid/contract';
import { TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useDescribeRunMutation } from '../store/api.ts';
import { FormDialog } from '../ui/FormDialog.tsx';
import { reasonOf } from '../ui/Loading.tsx';

/** Name and notes of a run; they are kept with the axis and go along in its file. */
export function DescribeRunDialog({ run, close }: { readonly run: RunSummary; readonly close: () => void }) {
  const [name, setName] = useState(run.name);
  const [notes, setNotes] = useState(run.notes);
  const [describe, { isLoading, error }] = useDescribeRunMutation();
  const save = async () => {
    const answer = await describe({ id: run.id, name: name.trim(), notes });
    if (!('error' in answer)) close();
  };
  return (
    <FormDialog
      title="Name and notes of the run"
      submit="Save"
      disabled={isLoading}
      onSubmit={() => void save()}
      close={close}
    >
      <TextField
        autoFocus
        label="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        label="Notes"
        multiline
        minRows={4}
        value={notes}
        onChange={(event) => setNotes(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
      />
      {error && <Typography color="error">{reasonOf(error)}</Typography>}
    </FormDialog>
  );
}
