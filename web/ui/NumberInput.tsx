import { ruleFor, type RuleName } from '@kavrid/contract';
import type { AxisUnit } from '@kavrid/core/chain';
import { formatNumber, parseQuantity, toNumber, type ParsedQuantity } from '@kavrid/core/quantity';
import { useRef, useState } from 'react';
import { localeMark } from './localeMark.ts';
import { notTaken, QuantityInput } from './QuantityInput.tsx';
import { useSteady } from './useSteady.ts';

const needed: ParsedQuantity = { kind: 'error', message: 'Enter a value.' };

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
  /** The document’s field that it shows, as a JSON pointer. */
  readonly field?: string | undefined;
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
    field,
    onValue,
  } = props;
  const full = ruleFor(rule, axisUnit);
  const inShown = shownIn?.unit ?? full.unit;
  const [typed, setTyped] = useState<{
    readonly text: string;
    readonly value: number | null;
    readonly readAs?: string;
  }>();
  const kept = value === null ? '' : formatNumber(value * (shownIn?.of ?? 1), shownIn ? 6 : 7).replace(/\u202f/g, '');
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
    <QuantityInput
      label={label}
      value={text}
      unit={full.shownUnit === full.unit ? inShown : full.shownUnit}
      error={text === kept ? undefined : error}
      help={now?.readAs && error === undefined ? `read as ${now.readAs}` : help}
      bare={bare}
      disabled={disabled}
      field={field}
      onType={onType}
      onLeave={onLeave}
    />
  );
}
