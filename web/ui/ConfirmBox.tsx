import { Checkbox, FormControlLabel } from '@mui/material';

/** A statement that the user confirms before something may be done. */
export function ConfirmBox({
  label,
  checked,
  onChange,
}: {
  readonly label: string;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}) {
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={checked} onChange={(_, now) => onChange(now)} />}
      label={label}
      sx={{
        alignItems: 'flex-start',
        '& .MuiFormControlLabel-label': { fontSize: 12.5, lineHeight: 1.25, pt: 0.8 },
      }}
    />
  );
}
