import { InputAdornment, TextField } from '@mui/material';
import { memo } from 'react';
import { numberFace } from './theme.ts';

const numberStyle = {
  '& .MuiInputAdornment-root': { ml: 0.5 },
  '& .MuiInputAdornment-root p': { fontSize: 12.5 },
  '& .MuiOutlinedInput-root': { pr: 1 },
  '& .MuiOutlinedInput-input': { pl: 1, pr: 0 },
  '& input': { fontFamily: numberFace, fontVariantNumeric: 'tabular-nums' },
};

/** A text with a unit beside it; redrawn only when what it shows has changed. Its handlers are steady. */
export const QuantityInput = memo(function QuantityInput(props: {
  readonly label: string;
  readonly value: string;
  readonly unit: string;
  readonly error: string | undefined;
  readonly help: string | undefined;
  readonly bare: boolean | undefined;
  readonly disabled?: boolean | undefined;
  /** The document’s field that it shows, as a JSON pointer; findings lead to it. */
  readonly field?: string | undefined;
  readonly onType: (text: string) => void;
  readonly onLeave: () => void;
}) {
  const { label, value, unit, error, help, bare, disabled = false, field, onType, onLeave } = props;
  return (
    <TextField
      {...(bare ? { variant: 'standard' as const } : { label })}
      value={value}
      error={error !== undefined}
      disabled={disabled}
      helperText={error ?? help}
      onChange={(event) => onType(event.target.value)}
      onBlur={onLeave}
      sx={numberStyle}
      slotProps={{
        htmlInput: { 'aria-label': label, 'data-field': field, autoComplete: 'off', spellCheck: false },
        input: { endAdornment: unit ? <InputAdornment position="end">{unit}</InputAdornment> : undefined },
      }}
    />
  );
});

/** Why a text is not taken, and which value is kept instead. */
export const notTaken = (because: string, kept: string) =>
  `${because}${kept === '' ? '' : ` ${kept} is kept until then.`}`;
