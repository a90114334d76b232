import { ruleFor, type RuleName } from '@kavrid/contract';
import { parseQuantity, toNumber, formatNumber } from '@kavrid/core/quantity';
import { InputAdornment, TextField } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis, useEdit } from '../axis/axisContext.ts';
import type { DraftPath } from '../store/drafts.ts';
import { numberFace } from '../theme.ts';
import { useShownUnits } from './units.ts';
import { useSteady } from './useSteady.ts';

interface FieldProps {
  readonly label: string;
  readonly path: DraftPath;
  readonly rule: RuleName;
  readonly help?: string;
  readonly bare?: boolean;
}

const numberStyle = {
  '& .MuiInputAdornment-root': { ml: 0.5 },
  '& .MuiInputAdornment-root p': { fontSize: 12.5 },
  '& .MuiOutlinedInput-root': { pr: 1 },
  '& .MuiOutlinedInput-input': { pl: 1, pr: 0 },
  '& input': { fontFamily: numberFace, fontVariantNumeric: 'tabular-nums' },
};

/** Drawn anew only when what it shows has changed; its handlers are steady. */
const Field = memo(function Field(props: {
  readonly label: string;
  readonly value: string;
  readonly unit: string;
  readonly error: string | undefined;
  readonly help: string | undefined;
  readonly bare: boolean | undefined;
  readonly onType: (text: string) => void;
  readonly onLeave: () => void;
}) {
  const { label, value, unit, error, help, bare, onType, onLeave } = props;
  return (
    <TextField
      {...(bare ? { variant: 'standard' as const } : { label })}
      value={value}
      error={error !== undefined}
      helperText={error ?? help}
      onChange={(event) => onType(event.target.value)}
      onBlur={onLeave}
      sx={numberStyle}
      slotProps={{
        htmlInput: { 'aria-label': label, autoComplete: 'off', spellCheck: false },
        input: { endAdornment: unit ? <InputAdornment position="end">{unit}</InputAdornment> : undefined },
      }}
    />
  );
});

/** An exact value, kept as typed. A bare number is taken in the unit shown beside it. */
export function ExactField({ label, path, rule, help, bare }: FieldProps) {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const units = useShownUnits(computation.input.axisUnit);
  const [typed, setTyped] = useState<string>();
  const { unit, shownUnit } = ruleFor(rule, computation.input.axisUnit);
  const kept = path.reduce<unknown>((at, key) => (at as Record<string | number, unknown>)[key], document) as string;
  const assumed = unit === 'mm' ? (units.unit === 'in' ? 'in' : 'mm') : unit;
  const error = computation.problems.find((problem) => problem.path === `/${path.join('/')}`)?.message;
  const hasOwnUnit = /[a-zµμ°"]\s*$/i.test(typed ?? kept);
  const onType = useSteady((text: string) => {
    setTyped(text);
    const bareNumber = unit !== '' && /^[\s\d.,/+\-eE]+$/.test(text) && text.trim() !== '';
    edit(path, bareNumber ? `${text.trim()} ${assumed}` : text);
  });
  const onLeave = useSteady(() => setTyped(undefined));
  return (
    <Field
      label={label}
      value={typed ?? kept}
      unit={hasOwnUnit ? '' : shownUnit === unit ? assumed : shownUnit}
      error={error}
      help={help}
      bare={bare}
      onType={onType}
      onLeave={onLeave}
    />
  );
}

/** An approximate value, kept as a number in the unit of its rule; what cannot be read stays in the field with its reason. */
export function NumberField({ label, path, rule, help, bare }: FieldProps) {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { axisUnit } = computation.input;
  const units = useShownUnits(axisUnit);
  const [typed, setTyped] = useState<{ readonly text: string; readonly error: string | undefined }>();
  const full = ruleFor(rule, axisUnit);
  const { unit, shownUnit } = full;
  const kept = path.reduce<unknown>((at, key) => (at as Record<string | number, unknown>)[key], document) as
    number | null;
  const isLength = unit.startsWith(axisUnit) && axisUnit === 'mm';
  const inShown = isLength ? unit.replace('mm', units.unit) : unit;
  const keptText =
    kept === null ? '' : formatNumber(isLength ? units.shown(kept, '{u}') : kept, 7).replace(/\u202f/g, '');
  const onType = useSteady((text: string) => {
    const parsed = parseQuantity(text, full, inShown);
    setTyped({ text, error: parsed.kind === 'error' ? parsed.message : undefined });
    edit(path, parsed.kind === 'value' ? toNumber(parsed.value) : null);
  });
  const onLeave = useSteady(() => setTyped((now) => (now?.error ? now : undefined)));
  return (
    <Field
      label={label}
      value={typed?.text ?? keptText}
      unit={shownUnit === unit ? inShown : shownUnit}
      error={typed?.error}
      help={help}
      bare={bare}
      onType={onType}
      onLeave={onLeave}
    />
  );
}
