import { TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { FormDialog } from './FormDialog.tsx';

/** Asks for a name, or another short text. */
export function NameDialog(props: {
  readonly title: string;
  readonly submit: string;
  /** What is asked for; a name where nothing is said. */
  readonly label?: string;
  readonly initial?: string;
  readonly help?: string;
  readonly error?: string | undefined;
  /** An empty name is an answer too. */
  readonly mayBeEmpty?: boolean;
  readonly busy?: boolean;
  readonly onName: (name: string) => void;
  readonly close: () => void;
  readonly children?: ReactNode;
}) {
  const { title, submit, label = 'Name', initial = '', help, error, mayBeEmpty, busy, onName, close, children } = props;
  const [name, setName] = useState(initial);
  return (
    <FormDialog
      title={title}
      submit={submit}
      disabled={busy === true || (!mayBeEmpty && name.trim() === '')}
      onSubmit={() => onName(name.trim())}
      close={close}
    >
      <TextField
        autoFocus
        label={label}
        value={name}
        onChange={(event) => setName(event.target.value)}
        error={error !== undefined}
        helperText={error ?? help}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      {children}
    </FormDialog>
  );
}
