import { pointerOf, ruleFor, valueAt, type DocumentPath, type RuleName } from '@kavrid/contract';
import type { AxisUnit } from '@kavrid/core/chain';
import { parseQuantity, toNumber, formatNumber } from '@kavrid/core/quantity';
import { InputAdornment, TextField } from '@mui/material';
import { memo, useState } from 'react';
import { useEdit, useMember, wordingOf } from '../member/memberContext.ts';
import { numberFace } from '../theme.ts';
import { useShownUnits } from './units.ts';
import { useKept } from './useKept.ts';
import { useSteady } from './useSteady.ts';

interface FieldProps {
  readonly label: string;
  readonly path: DocumentPath;
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
  const member = useMember();
  const { document, computation } = member;
  const wording = wordingOf(member);
  const edit = useEdit();
  const units = useShownUnits(wording);
  const [typed, setTyped] = useState<{ readonly text: string; readonly kept: string }>();
  const { unit, shownUnit } = ruleFor(rule, wording.axisUnit);
  const kept = valueAt(document, path) as string;
  // What was typed stands until the value changes otherwise, as by an undo.
  const text = typed?.kept === kept ? typed.text : kept;
  const assumed = unit === 'mm' ? (units.unit === 'in' ? 'in' : 'mm') : unit;
  const error = computation.problems.find((problem) => problem.path === pointerOf(path))?.message;
  const hasOwnUnit = /[a-zµμ°"]\s*$/i.test(text);
  const onType = useSteady((now: string) => {
    const bareNumber = unit !== '' && /^[\s\d.,/+\-eE]+$/.test(now) && now.trim() !== '';
    const value = bareNumber ? `${now.trim()} ${assumed}` : now;
    setTyped({ text: now, kept: value });
    edit(path, value);
  });
  const onLeave = useSteady(() => setTyped(undefined));
  return (
    <Field
      label={label}
      value={text}
      unit={hasOwnUnit ? '' : shownUnit === unit ? assumed : shownUnit}
      error={error}
      help={help}
      bare={bare}
      onType={onType}
      onLeave={onLeave}
    />
  );
}

/** An approximate value of the axis, kept as a number in the unit of its rule. */
export function NumberField({
  path,
  rule,
  shownIn,
  ...rest
}: FieldProps & {
  /** Another unit to show it in, and how many of it one of the rule's is. */
  readonly shownIn?: { readonly unit: string; readonly of: number };
}) {
  const member = useMember();
  const { axisId, document } = member;
  const wording = wordingOf(member);
  const edit = useEdit();
  const { axisUnit } = wording;
  const units = useShownUnits(wording);
  const { unit } = ruleFor(rule, axisUnit);
  const isLength = axisUnit === 'mm' && unit.startsWith('mm');
  return (
    <NumberInput
      {...rest}
      rule={rule}
      axisUnit={axisUnit}
      value={valueAt(document, path) as number | null}
      shownIn={shownIn ?? (isLength ? { unit: unit.replace('mm', units.unit), of: units.shown(1, '{u}') } : undefined)}
      keepAs={`${axisId}${pointerOf(path)}`}
      onValue={(value) => edit(path, value)}
    />
  );
}

/**
 * A number with its unit; what cannot be read stays in the field with its reason, even through a reload, and counts as no
 * value.
 */
export function NumberInput(props: {
  readonly label: string;
  readonly rule: RuleName;
  readonly axisUnit?: AxisUnit;
  readonly value: number | null;
  /** Another unit to show it in, and how many of it one of the rule's is. */
  readonly shownIn?: { readonly unit: string; readonly of: number } | undefined;
  readonly help?: string | undefined;
  readonly bare?: boolean | undefined;
  /** Tells this field from all others in this browser. */
  readonly keepAs: string;
  readonly onValue: (value: number | null) => void;
}) {
  const { label, rule, axisUnit = 'mm', value, shownIn, help, bare, keepAs, onValue } = props;
  const [unread, keepUnread, forgetUnread] = useKept<{ readonly text: string; readonly error: string } | null>(
    `field.${keepAs}`,
    null,
  );
  const [typed, setTyped] = useState<
    | {
        readonly text: string;
        readonly value: number | null;
        readonly error?: string;
      }
    | undefined
  >(unread && value === null ? { ...unread, value } : undefined);
  const full = ruleFor(rule, axisUnit);
  const inShown = shownIn?.unit ?? full.unit;
  const now = typed?.value === value ? typed : undefined;
  const kept = value === null ? '' : formatNumber(value * (shownIn?.of ?? 1), 7).replace(/\u202f/g, '');
  const onType = useSteady((text: string) => {
    const parsed = parseQuantity(text, full, inShown);
    const read = parsed.kind === 'value' ? toNumber(parsed.value) : null;
    setTyped({ text, value: read, ...(parsed.kind === 'error' ? { error: parsed.message } : {}) });
    if (parsed.kind === 'error') keepUnread({ text, error: parsed.message });
    else forgetUnread();
    onValue(read);
  });
  const onLeave = useSteady(() => setTyped((last) => (last?.error ? last : undefined)));
  return (
    <Field
      label={label}
      value={now?.text ?? kept}
      unit={full.shownUnit === full.unit ? inShown : full.shownUnit}
      error={now?.error}
      help={help}
      bare={bare}
      onType={onType}
      onLeave={onLeave}
    />
  );
}
