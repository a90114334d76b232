import { pointerOf, ruleFor, unreadBeside, valueAt, type DocumentPath, type RuleName } from '@kavrid/contract';
import type { AxisUnit } from '@kavrid/core/chain';
import { parseQuantity, toNumber, formatNumber, type ParsedQuantity } from '@kavrid/core/quantity';
import { InputAdornment, TextField } from '@mui/material';
import { memo, useRef, useState } from 'react';
import { useEdit, useMember, wordingOf } from '../member/memberContext.ts';
import { numberFace } from '../theme.ts';
import { localeMark } from './localeMark.ts';
import { useShownUnits } from './units.ts';
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
  readonly disabled?: boolean | undefined;
  readonly onType: (text: string) => void;
  readonly onLeave: () => void;
}) {
  const { label, value, unit, error, help, bare, disabled = false, onType, onLeave } = props;
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
        htmlInput: { 'aria-label': label, autoComplete: 'off', spellCheck: false },
        input: { endAdornment: unit ? <InputAdornment position="end">{unit}</InputAdornment> : undefined },
      }}
    />
  );
});

/** What was typed into a field of what is on screen and cannot be taken, and ways to keep and to forget it. */
export function useUnread(path: DocumentPath) {
  const { document } = useMember();
  const edit = useEdit();
  const pointer = pointerOf(path);
  const text: string | undefined = document.unread[pointer];
  return {
    text,
    keep: (next: string) => edit(['unread'], { ...document.unread, [pointer]: next.slice(0, 120) }),
    forget: () => text !== undefined && edit(['unread'], unreadBeside(document.unread, path)),
  };
}

/** Why a text is not taken, and what is kept meanwhile. */
const notTaken = (because: string, kept: string) => `${because}${kept === '' ? '' : ` ${kept} is kept until then.`}`;

/** An exact value, kept as typed. A bare number is taken in the unit shown beside it. */
export function ExactField({ label, path, rule, help, bare }: FieldProps) {
  const member = useMember();
  const { document, computation } = member;
  const wording = wordingOf(member);
  const edit = useEdit();
  const units = useShownUnits(wording);
  const unread = useUnread(path);
  const [typed, setTyped] = useState<{ readonly text: string; readonly kept: string; readonly readAs?: string }>();
  const full = ruleFor(rule, wording.axisUnit);
  const { unit, shownUnit } = full;
  const kept = valueAt(document, path) as string;
  // What was typed stands until the value changes otherwise, as by an undo.
  const now = typed?.kept === kept ? typed : undefined;
  const text = unread.text ?? now?.text ?? kept;
  const assumed = unit === 'mm' ? (units.unit === 'in' ? 'in' : 'mm') : unit;
  const wrong = unread.text === undefined ? undefined : parseQuantity(unread.text, full, assumed, localeMark());
  const error =
    wrong === undefined
      ? computation.problems.find((problem) => problem.path === pointerOf(path))?.message
      : notTaken(wrong.kind === 'error' ? wrong.message : 'It does not go with the other fields.', kept);
  const hasOwnUnit = /[a-zµμ°"%]\s*$/i.test(text);
  // The value that stood when typing began: what comes about on the way to a text that cannot be taken is none.
  const before = useRef<string>(undefined);
  const onType = useSteady((next: string) => {
    const parsed = parseQuantity(next, full, assumed, localeMark());
    before.current ??= kept;
    if (parsed.kind === 'error') {
      edit(path, before.current);
      return unread.keep(next);
    }
    const plain = parsed.kind === 'value' ? (parsed.readAs ?? next) : next;
    const bareNumber = unit !== '' && /^[\s\d.,/:+\-eE'’\u00a0\u2009\u202f]+$/.test(plain) && plain.trim() !== '';
    const value = bareNumber ? `${plain.trim()} ${assumed}` : plain;
    setTyped({ text: next, kept: value, ...(parsed.kind === 'value' && parsed.readAs ? { readAs: value } : {}) });
    unread.forget();
    edit(path, value);
  });
  const onLeave = useSteady(() => {
    before.current = undefined;
    setTyped((last) => (last?.readAs ? last : undefined));
  });
  return (
    <Field
      label={label}
      value={text}
      unit={hasOwnUnit ? '' : shownUnit === unit ? assumed : shownUnit}
      error={error}
      help={now?.readAs && unread.text === undefined ? `read as ${now.readAs}` : help}
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
  isRequired,
  disabled,
  ...rest
}: FieldProps & {
  readonly isRequired?: boolean;
  readonly disabled?: boolean;
  /** Another unit to show it in, and how many of it one of the rule's is. */
  readonly shownIn?: { readonly unit: string; readonly of: number };
}) {
  const member = useMember();
  const { document } = member;
  const wording = wordingOf(member);
  const edit = useEdit();
  const { axisUnit } = wording;
  const units = useShownUnits(wording);
  const { unit } = ruleFor(rule, axisUnit);
  const isLength = axisUnit === 'mm' && unit.startsWith('mm');
  const unread = useUnread(path);
  return (
    <NumberInput
      {...rest}
      rule={rule}
      axisUnit={axisUnit}
      value={valueAt(document, path) as number | null}
      shownIn={shownIn ?? (isLength ? { unit: unit.replace('mm', units.unit), of: units.shown(1, '{u}') } : undefined)}
      unread={unread.text}
      onUnread={(text, before) => {
        if (text === undefined) return unread.forget();
        edit(path, before);
        unread.keep(text);
      }}
      isRequired={isRequired}
      disabled={disabled}
      onValue={(value) => edit(path, value)}
    />
  );
}

const needed: ParsedQuantity = { kind: 'error', message: 'A value is needed here.' };

/** A number with its unit. What cannot be read stays in the field with its reason. */
export function NumberInput(props: {
  readonly label: string;
  readonly rule: RuleName;
  readonly axisUnit?: AxisUnit;
  readonly value: number | null;
  /** Another unit to show it in, and how many of it one of the rule's is. */
  readonly shownIn?: { readonly unit: string; readonly of: number } | undefined;
  readonly help?: string | undefined;
  readonly bare?: boolean | undefined;
  /** What was typed and could not be taken, where it is kept elsewhere. */
  readonly unread?: string | undefined;
  /**
   * Told of what cannot be taken, with the value that stood when typing began and stands again; and with undefined when it has
   * been put right. Without it, a text that cannot be read counts as no value.
   */
  readonly onUnread?: ((text: string | undefined, before: number | null) => void) | undefined;
  /** An empty field cannot be taken. */
  readonly isRequired?: boolean | undefined;
  readonly disabled?: boolean | undefined;
  readonly onValue: (value: number | null) => void;
}) {
  const {
    label,
    rule,
    axisUnit = 'mm',
    value,
    shownIn,
    help,
    bare,
    unread,
    onUnread,
    isRequired = false,
    disabled,
    onValue,
  } = props;
  const full = ruleFor(rule, axisUnit);
  const inShown = shownIn?.unit ?? full.unit;
  const [typed, setTyped] = useState<{
    readonly text: string;
    readonly value: number | null;
    readonly readAs?: string;
  }>();
  const kept = value === null ? '' : formatNumber(value * (shownIn?.of ?? 1), 7).replace(/\u202f/g, '');
  const now = typed?.value === value ? typed : undefined;
  const text = unread ?? now?.text ?? kept;
  const read = (next: string) => {
    const parsed = parseQuantity(next, full, inShown, localeMark());
    return parsed.kind === 'empty' && isRequired ? needed : parsed;
  };
  const shown = read(text);
  const keepsLast = onUnread !== undefined;
  const error =
    shown.kind === 'error'
      ? keepsLast
        ? notTaken(
            shown.message,
            kept === '' ? '' : `${kept} ${full.shownUnit === full.unit ? inShown : full.shownUnit}`.trim(),
          )
        : shown.message
      : undefined;
  // The value that stood when typing began: what comes about on the way to a text that cannot be taken is none.
  const before = useRef<{ readonly value: number | null }>(undefined);
  const onType = useSteady((next: string) => {
    const parsed = read(next);
    before.current ??= { value };
    if (parsed.kind === 'error' && onUnread) {
      setTyped({ text: next, value: before.current.value });
      return onUnread(next, before.current.value);
    }
    const number = parsed.kind === 'value' ? toNumber(parsed.value) : null;
    setTyped({
      text: next,
      value: number,
      ...(parsed.kind === 'value' && parsed.readAs ? { readAs: parsed.readAs } : {}),
    });
    onUnread?.(undefined, number);
    onValue(number);
  });
  const onLeave = useSteady(() => {
    before.current = undefined;
    setTyped((last) => (shown.kind === 'error' || last?.readAs ? last : undefined));
  });
  return (
    <Field
      label={label}
      value={text}
      unit={full.shownUnit === full.unit ? inShown : full.shownUnit}
      error={text === kept ? undefined : error}
      help={now?.readAs && error === undefined ? `read as ${now.readAs}` : help}
      bare={bare}
      disabled={disabled}
      onType={onType}
      onLeave={onLeave}
    />
  );
}
