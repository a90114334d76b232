import { pointerOf, ruleFor, unreadBeside, valueAt, type DocumentPath, type RuleName } from '@kavrid/contract';
import { parseQuantity } from '@kavrid/core/quantity';
import { useRef, useState } from 'react';
import { localeMark } from '../ui/localeMark.ts';
import { NumberInput } from '../ui/NumberInput.tsx';
import { notTaken, QuantityInput } from '../ui/QuantityInput.tsx';
import { useShownUnits } from '../ui/units.ts';
import { useSteady } from '../ui/useSteady.ts';
import { useEdit, useMember, wordingOf, type MemberPath } from './memberContext.ts';

interface FieldProps<Value> {
  readonly label: string;
  readonly path: MemberPath<Value>;
  readonly rule: RuleName;
  readonly help?: string;
  readonly bare?: boolean;
}

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

/** An exact value, kept as typed. A bare number is taken in the unit shown beside it. */
export function ExactField({ label, path, rule, help, bare }: FieldProps<string>) {
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
    <QuantityInput
      field={pointerOf(path)}
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
}: FieldProps<number | null> & {
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
      field={pointerOf(path)}
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
