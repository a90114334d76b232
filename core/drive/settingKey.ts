import {
  equals,
  exactRatio,
  exactToText,
  formatNumber,
  isWhole,
  parseUnit,
  rationalFromNumber,
  sameDimension,
  toNumber,
} from '../quantity/index.ts';
import { inEndUnit, type EndUnits } from './inEndUnit.ts';
import type { PlannedSetting, EndValue, KeyInRow } from './endValue.ts';

interface Keyed {
  readonly key: string;
  readonly meaning: string;
}

/** What to key for a planned value, before it is halved. */
export function keyOf(value: EndValue, planned: PlannedSetting, units: EndUnits): Keyed | { readonly because: string } {
  switch (planned.kind) {
    case 'word': {
      const choice = choicesOf(value.choices).find(({ words }) => sameWords(words, planned.word));
      if (choice) return { key: choice.key, meaning: planned.word };
      return value.choices === ''
        ? { key: planned.word, meaning: '' }
        : { because: `“${planned.word}” is not one of its options` };
    }
    case 'switches':
      return { key: planned.positions, meaning: '' };
    case 'exact':
      return exactKey(value, planned, units);
    case 'number': {
      const own = inEndUnit(planned.value, planned.unit, value.unit, units);
      if (own === undefined) return { because: `${planned.unit} cannot be given in ${value.unit}` };
      const scale = value.scale ?? 1;
      const keyed = Number((own / scale).toPrecision(12));
      const digits = decimalsOf(value);
      const text = digits === undefined ? String(Number(keyed.toPrecision(9))) : keyed.toFixed(digits);
      const wrong = outOfRange(value, keyed);
      if (wrong) return wrong;
      return { key: text, meaning: scale === 1 && alike(planned.unit, value.unit) ? '' : wordsFor(planned) };
    }
  }
}

type ExactSetting = Extract<PlannedSetting, { kind: 'exact' }>;

/** A whole number, or a decimal that is good over the span, with the fraction beside it. */
function exactKey(value: EndValue, planned: ExactSetting, units: EndUnits): Keyed | { readonly because: string } {
  // A number planned without a unit is one in the unit of the list.
  const per = inEndUnit(1, planned.unit, value.unit, units) ?? (planned.unit === '' ? 1 : undefined);
  if (per === undefined) return { because: `${planned.unit} cannot be given in ${value.unit}` };
  const ratio = per / (value.scale ?? 1);
  if (ratio === 1 && isWhole(planned.value)) {
    const text = exactToText(planned.value);
    return outOfRange(value, Number(text)) ?? { key: text, meaning: '' };
  }
  const own = toNumber(planned.value) * ratio;
  const wrong = outOfRange(value, own);
  if (wrong) return wrong;
  const wanted =
    planned.span === undefined
      ? 12 - Math.ceil(Math.log10(Math.abs(own) || 1))
      : Math.ceil(Math.log10((5 * planned.span) / Math.abs(ratio)));
  const decimals = Math.min(decimalsOf(value) ?? Infinity, Math.max(0, Math.min(12, wanted)));
  const key = own
    .toFixed(decimals)
    .replace(/(\.\d*?)0+$/, decimalsOf(value) === undefined ? '$1' : '$&')
    .replace(/\.$/, '');
  const off = (Math.abs(Number(key) - own) * Math.abs(planned.span ?? 0)) / Math.abs(ratio);
  const isExact = equals(exactRatio(rationalFromNumber(Number(key) / ratio)), planned.value);
  return {
    key,
    meaning: [
      isExact ? '' : `exactly ${wordsFor(planned)}`,
      off > 0.5 ? `with this number of decimals the error over the travel is ${formatNumber(off, 2)}` : '',
    ]
      .filter(Boolean)
      .join('; '),
  };
}

function outOfRange({ minimum, maximum }: EndValue, keyed: number): { readonly because: string } | undefined {
  if (minimum !== '' && keyed < Number(minimum)) return { because: `the minimum is ${minimum}` };
  if (maximum !== '' && keyed > Number(maximum)) return { because: `the maximum is ${maximum}` };
  return undefined;
}

/** As many decimals as the manual gives its factory value; whole numbers for a list that shows none. */
function decimalsOf({ factory, minimum, maximum }: EndValue): number | undefined {
  const given = [factory, minimum, maximum].filter((text) => /^-?\d+(\.\d+)?$/.test(text));
  if (given.length === 0) return undefined;
  return Math.max(...given.map((text) => text.split('.')[1]?.length ?? 0));
}

export const wordsFor = (planned: PlannedSetting): string => {
  switch (planned.kind) {
    case 'word':
      return planned.word;
    case 'switches':
      return planned.positions;
    case 'exact':
      return `${exactToText(planned.value)} ${planned.unit}`.trim();
    case 'number':
      return `${formatNumber(planned.value, 9)} ${planned.unit}`.trim();
  }
};

/** Whether a value reads the same in both units but for its prefix. */
function alike(a: string, b: string): boolean {
  const [x, y] = [parseUnit(a), parseUnit(b)];
  return (
    a === b || a === '' || b === '' || (x !== undefined && y !== undefined && sameDimension(x.dimension, y.dimension))
  );
}

/** The part of a value that belongs to this half of it. */
export function halved({ half, halfBase }: EndValue, key: string): string {
  if (half === 'whole' || halfBase === null) return key;
  const base = BigInt(Math.round(halfBase));
  const whole = /^\d+$/.test(key) ? BigInt(key) : BigInt(Math.round(Number(key)));
  return String(half === 'high' ? whole / base : whole % base);
}

/** Puts the two halves of a value together again. */
export const joinHalves = (high: number, low: number, base: number): number => high * base + low;

/** The fields of bits of one code, put together; a field without a plan keeps its factory value. */
export function packed(
  fields: readonly EndValue[],
  plan: ReadonlyMap<string, PlannedSetting>,
  units: EndUnits,
): Pick<KeyInRow, 'key' | 'meaning' | 'because'> {
  const isPlanned = fields.some(({ role }) => role !== null && plan.has(role));
  if (!isPlanned) return { key: undefined, meaning: '' };
  let whole = 0;
  const meaning: string[] = [];
  for (const field of fields) {
    const planned = field.role === null ? undefined : plan.get(field.role);
    const keyed = planned ? keyOf(field, planned, units) : { key: field.factory || '0', meaning: '' };
    if ('because' in keyed) return { key: undefined, meaning: meaning.join(', '), because: keyed.because };
    const [number, most] = [Number(keyed.key), 2 ** (field.bits ?? 1) - 1];
    if (!Number.isInteger(number) || number < 0 || number > most)
      return {
        key: undefined,
        meaning: meaning.join(', '),
        because: `${field.label} takes whole numbers from 0 to ${most}`,
      };
    whole += number * 2 ** (field.firstBit ?? 0);
    meaning.push(`${field.label} ${keyed.meaning || keyed.key}`);
  }
  return { key: String(whole), meaning: meaning.join(', ') };
}

/** Takes a packed code apart: the number in each of its fields. */
export const unpack = (fields: readonly EndValue[], whole: number): readonly number[] =>
  fields.map(({ firstBit, bits }) => Math.floor(whole / 2 ** (firstBit ?? 0)) % 2 ** (bits ?? 1));

/** `0 = low; 1 = high` as pairs. */
const choicesOf = (text: string) =>
  text.split(';').flatMap((pair) => {
    const [key, ...words] = pair.split('=');
    return key && words.length > 0 ? [{ key: key.trim(), words: words.join('=').trim() }] : [];
  });

const sameWords = (a: string, b: string) => a.toLowerCase().startsWith(b.toLowerCase());
