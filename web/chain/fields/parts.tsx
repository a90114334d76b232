import type { DocumentPath } from '@kavrid/contract';
import { Box, FormControlLabel, Switch, TextField, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { useEdit } from '../../axis/axisContext.ts';

/** Two fields side by side. */
export const Pair = ({ children }: { readonly children: ReactNode }) => (
  <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, alignItems: 'start' }}>{children}</Box>
);

/** A heading between fields. */
export const Between = ({ children }: { readonly children: ReactNode }) => (
  <Typography variant="h3" color="text.secondary" sx={{ borderBottom: 1, borderColor: 'divider' }}>
    {children}
  </Typography>
);

export const Hint = ({ children }: { readonly children: ReactNode }) => (
  <Typography variant="body2" color="text.secondary">
    {children}
  </Typography>
);

export function TextLine({
  label,
  path,
  value,
  help,
}: {
  readonly label: string;
  readonly path: DocumentPath;
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
      slotProps={{ htmlInput: { maxLength: 80 } }}
    />
  );
}

export function Toggle({
  label,
  path,
  value,
}: {
  readonly label: string;
  readonly path: DocumentPath;
  readonly value: boolean;
}) {
  const edit = useEdit();
  return (
    <FormControlLabel
      control={<Switch size="small" checked={value} onChange={(_, checked) => edit(path, checked)} />}
      label={label}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
}
