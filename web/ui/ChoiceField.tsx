import { MenuItem, TextField } from '@mui/material';

interface Choice<T extends string | number> {
  readonly value: T;
  readonly label: string;
}

/** One of a few. */
export function ChoiceField<T extends string | number>(props: {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly Choice<T>[];
  readonly onChange: (value: T) => void;
  readonly help?: string;
  readonly bare?: boolean;
}) {
  const { label, value, choices, onChange, help, bare } = props;
  return (
    <TextField
      select
      {...(bare ? { variant: 'standard' as const } : { label })}
      value={value}
      helperText={help}
      onChange={(event) => {
        const chosen = choices.find((choice) => String(choice.value) === String(event.target.value));
        if (chosen) onChange(chosen.value);
      }}
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': label } as object } }}
    >
      {choices.map((choice) => (
        <MenuItem key={choice.value} value={choice.value} dense>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
