import type { DocumentPath } from '@kavrid/contract';
import { FormControlLabel, Switch, TextField, Typography } from '@mui/material';
import { memo, type ReactNode } from 'react';
import { useEdit } from '../../member/memberContext.ts';
import { useSteady } from '../../ui/useSteady.ts';

/** Fields below each other. */
export const Column = ({ children }: { readonly children: ReactNode }) => (
  <div style={{ display: 'grid', gap: 10, paddingTop: 4, alignContent: 'start' }}>{children}</div>
);

/** Two fields side by side. */
export const Pair = ({ children }: { readonly children: ReactNode }) => (
  <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, alignItems: 'start' }}>{children}</div>
);

/** A heading between fields. */
export const Between = memo(function Between({ children }: { readonly children: string }) {
  return (
    <Typography variant="h3" color="text.secondary" sx={{ borderBottom: 1, borderColor: 'divider' }}>
      {children}
    </Typography>
  );
});

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
  const change = useSteady((checked: boolean) => edit(path, checked));
  return <ToggleSwitch label={label} value={value} change={change} />;
}

/** A switch takes long to draw: it is drawn anew only when it is turned. */
const ToggleSwitch = memo(function ToggleSwitch(props: {
  readonly label: string;
  readonly value: boolean;
  readonly change: (checked: boolean) => void;
}) {
  const { label, value, change } = props;
  return (
    <FormControlLabel
      control={<Switch size="small" checked={value} onChange={(_, checked) => change(checked)} />}
      label={label}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
});
