import { MenuItem, TextField } from '@mui/material';
import { memo } from 'react';
import { useSteady } from './useSteady.ts';

interface Choice<T extends string | number> {
  readonly value: T;
  readonly label: string;
}

export interface ChoiceFieldProps<T extends string | number> {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly Choice<T>[];
  readonly onChange: (value: T) => void;
  readonly help?: string;
  readonly bare?: boolean;
  readonly disabled?: boolean;
  /** The document’s field that it shows, as a JSON pointer; findings lead to it. */
  readonly field?: string;
}

/** One of a few. */
export function ChoiceField<T extends string | number>(props: ChoiceFieldProps<T>) {
  const onChange = useSteady((value: string | number) => props.onChange(value as T));
  return <Field {...props} onChange={onChange} />;
}

const sameChoices = (a: ChoiceFieldProps<string | number>, b: ChoiceFieldProps<string | number>) =>
  a.value === b.value &&
  a.label === b.label &&
  a.help === b.help &&
  a.field === b.field &&
  a.disabled === b.disabled &&
  a.choices.length === b.choices.length &&
  a.choices.every(({ value, label }, k) => value === b.choices[k]?.value && label === b.choices[k]?.label);

/** A select takes long to draw: it is redrawn only for another value or other choices. */
const Field = memo(function Field(props: ChoiceFieldProps<string | number>) {
  const { label, value, choices, onChange, help, bare, field, disabled = false } = props;
  return (
    <TextField
      select
      {...(bare ? { variant: 'standard' as const } : { label })}
      value={value}
      disabled={disabled}
      helperText={help}
      onChange={(event) => {
        const chosen = choices.find((choice) => String(choice.value) === String(event.target.value));
        if (chosen) onChange(chosen.value);
      }}
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': label, 'data-field': field } as object } }}
    >
      {choices.map((choice) => (
        <MenuItem key={choice.value} value={choice.value} dense>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}, sameChoices);
