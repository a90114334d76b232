import { pointerOf } from '@kavrid/contract';
import { TextField } from '@mui/material';
import { useEdit, type MemberPath } from './memberContext.ts';

/** A text of the document. */
export function TextLine({
  label,
  path,
  value,
  help,
}: {
  readonly label: string;
  readonly path: MemberPath<string>;
  readonly value: string;
  readonly help?: string;
}) {
  const edit = useEdit();
  return (
    <TextField
      label={label}
      value={value}
      helperText={help}
      onChange={(event) => edit(path, event.target.value)}
      slotProps={{ htmlInput: { maxLength: 80, 'data-field': pointerOf(path) } }}
    />
  );
}
