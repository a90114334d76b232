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
  type Exact,
} from '../quantity/index.ts';
import { inEndUnit, type EndUnits } from './inEndUnit.ts';

/** What a setting of a controller means. */
export const controllerRoles = [
  'stepsPerUnit',
  'pulseForm',
  'pulseActiveLevel',
  'directionInverted',
  'pulseWidth',
  'directionSetUp',
  'highestSpeed',
  'acceleration',
  'enableActiveLevel',
  'alarmContact',
  'limitContact',
  'backlash',
  'minusSoftLimit',
  'plusSoftLimit',
  'homingSearchSpeed',
  'homingCreepSpeed',
  'homingTimeOut',
  'brakeReleaseDelay',
  'brakeEngageDelay',
  'trainPulses',
  'trainRate',
  'trainPeriod',
  'commandFullSpeed',
  'commandFullSignal',
  'commandOffset',
  'feedbackCountsPerUnit',
  'loopGain',
  'errorLimit',
  'carrierFrequency',
  'outputSkew',
] as const;
export type ControllerRole = (typeof controllerRoles)[number];

/**
 * What keying a value does besides setting it; a key-in sheet is ordered by it. Switches come first, since the supply is off for
 * them. A factory reset sets everything back; what resets others is a value whose choice sets some of them, as of a motor or a mode.
 */
export const keyInSteps = [
  'switches',
  'unlocks',
  'factory reset',
  'resets others',
  'value',
  'stores',
  'restarts',
] as const;
export type KeyInStep = (typeof keyInSteps)[number];
/** The last line of a sheet compares what was keyed in. */
export type SheetStep = KeyInStep | 'checks';

/** A value as planned: a number in a unit, or a word that the setting's choices know. */
export type PlannedSetting =
  | { readonly kind: 'number'; readonly value: number; readonly unit: string }
  /**
   * Exact, and keyed with digits enough. `span` is the most of what it is a scale of (a travel in axis units): over it the rounding
   * is to stay below a tenth of one; without it, twelve digits.
   */
  | { readonly kind: 'exact'; readonly value: Exact; readonly unit: string; readonly span?: number }
  /** `raw` is the number that stands for it over a link; without one only the choices of a list say it. */
  | { readonly kind: 'word'; readonly word: string; readonly raw?: number }
  /** Positions of switches, which are set with the supply off. */
  | { readonly kind: 'switches'; readonly positions: string };

/** One value of an end's own list. */
export interface EndValue {
  readonly code: string;
  readonly label: string;
  readonly group: string;
  readonly unit: string;
  readonly takesEffect: 'at once' | 'after restart';
  readonly factory: string;
  /** What to key where no role says it: a lock code, a store or reset, the number of a motor; empty: nothing. */
  readonly keyValue: string;
  readonly minimum: string;
  readonly maximum: string;
  readonly role: string | null;
  readonly keyIn: KeyInStep;
  readonly scale: number | null;
  readonly half: 'whole' | 'high' | 'low';
  readonly halfBase: number | null;
  readonly firstBit: number | null;
  readonly bits: number | null;
  readonly choices: string;
  readonly shows: string;
  readonly note: string;
}

/** A line of a key-in sheet. */
export interface KeyInRow {
  readonly code: string;
  readonly label: string;
  readonly unit: string;
  readonly step: SheetStep;
  /** A line that is keyed once more, after a factory reset. */
  readonly isAgain?: boolean;
  /** What to key; undefined where the plan says nothing that can be keyed. */
  readonly key: string | undefined;
  /** Nothing plans it: the number to key is the user's. */
  readonly isGiven?: boolean;
  /** The planned value in words, where the number alone does not say it. */
  readonly meaning: string;
  readonly shows: string;
  readonly note: string;
  readonly because?: string;
}

/**
 * The values to key in at one end, in the order to key them: switches, with the supply off; what unlocks; a factory reset, with its
 * restart, and the lock once more; what resets others, the values, storing, restarting; and a last look.
 * Values that share a code as bit fields become one line; halves of a value become two.
 * @param given by code: the user's numbers for values that nothing plans
 */
export function keyInSheet(
  values: readonly EndValue[],
  plan: ReadonlyMap<string, PlannedSetting>,
  units: EndUnits,
  given: Readonly<Record<string, string>> = {},
): readonly KeyInRow[] {
  const isSwitch = ({ role, keyIn }: EndValue) =>
    keyIn === 'switches' || (role !== null && plan.get(role)?.kind === 'switches');
  const rowsOf = (step: KeyInStep) =>
    codesOf(values.filter((value) => value.keyIn === step && !isSwitch(value))).map((fields) =>
      rowOf(step, fields, plan, units, given),
    );
  const isKept = ({ code, key, because, step }: KeyInRow) =>
    (step !== 'value' && step !== 'switches') || key !== undefined || because !== undefined || code in given;
  const switches = codesOf(values.filter(isSwitch))
    .map((fields) => rowOf('switches', fields, plan, units, given))
    .filter(isKept);
  const unlocking = rowsOf('unlocks');
  const reset = rowsOf('factory reset');
  const again = [restartRow, ...unlocking].map((row): KeyInRow => ({ ...row, isAgain: true }));
  const setting = [...rowsOf('resets others'), ...rowsOf('value')].filter(isKept);
  const keyed = new Set(setting.map(({ code }) => code));
  const needsRestart = values.some(({ code, takesEffect }) => takesEffect === 'after restart' && keyed.has(code));
  const restarts = rowsOf('restarts');
  return [
    ...(switches.length > 0 ? [supplyOffRow, ...switches, supplyOnRow] : []),
    ...unlocking,
    ...(reset.length > 0 ? [...reset, ...again] : []),
    ...setting,
    ...rowsOf('stores'),
    ...(needsRestart && restarts.length === 0 ? [restartRow] : restarts),
    ...(setting.length + switches.length > 0 ? [checkRow] : []),
  ];
}

const ownRow = (step: SheetStep, label: string, meaning: string): KeyInRow => ({
  code: label,
  label,
  unit: '',
  step,
  key: undefined,
  meaning,
  shows: '',
  note: '',
});
const supplyOffRow = ownRow(
  'switches',
  'Switch off, wait until the display is dark',
  'The drive reads its switches only when it is switched on.',
);
const supplyOnRow = ownRow('switches', 'Switch on', '');
const restartRow = ownRow(
  'restarts',
  'Switch off, wait until the display is dark, switch on',
  'Some values take effect only then.',
);
const checkRow = ownRow('checks', 'Read the values again and compare them with this sheet', 'Tick what is as planned.');

/** Values by code, in their order; the bit fields of a code together. */
function codesOf(values: readonly EndValue[]): readonly (readonly EndValue[])[] {
  const byCode = new Map<string, EndValue[]>();
  for (const value of values) {
    const key = value.firstBit === null ? `${value.code}/${value.half}` : `${value.code}/bits`;
    byCode.set(key, [...(byCode.get(key) ?? []), value]);
  }
  return [...byCode.values()];
}

function rowOf(
  step: SheetStep,
  fields: readonly EndValue[],
  plan: ReadonlyMap<string, PlannedSetting>,
  units: EndUnits,
  given: Readonly<Record<string, string>>,
): KeyInRow {
  const first = fields[0] as EndValue;
  const planned = first.role === null ? undefined : plan.get(first.role);
  const shared = {
    code: first.code,
    label: fields.length === 1 ? first.label : fields.map(({ label }) => label).join(' + '),
    unit: first.unit || unitOf(planned),
    step,
    shows: first.shows,
    note: fields
      .map(({ note }) => note)
      .filter((note) => note !== '')
      .join(' '),
  };
  if (first.firstBit !== null) return { ...shared, ...packed(fields, plan, units) };
  // What unlocks, resets, stores or restarts has one value to key, and so has a value that means nothing to Kavrid.
  if (!planned)
    return { ...shared, key: given[first.code] || first.keyValue || undefined, isGiven: true, meaning: first.choices };
  const keyed = keyOf(first, planned, units);
  if ('because' in keyed) return { ...shared, key: undefined, meaning: wordsFor(planned), because: keyed.because };
  return { ...shared, key: halved(first, keyed.key), meaning: keyed.meaning };
}

const unitOf = (planned: PlannedSetting | undefined): string => (planned && 'unit' in planned ? planned.unit : '');

interface Keyed {
  readonly key: string;
  readonly meaning: string;
}

/** What to key for a planned value, before it is halved. */
function keyOf(value: EndValue, planned: PlannedSetting, units: EndUnits): Keyed | { readonly because: string } {
  switch (planned.kind) {
    case 'word': {
      const choice = choicesOf(value.choices).find(({ words }) => sameWords(words, planned.word));
      if (choice) return { key: choice.key, meaning: planned.word };
      return value.choices === ''
        ? { key: planned.word, meaning: '' }
        : { because: `none of its choices is “${planned.word}”` };
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
      off > 0.5 ? `with so few decimals off by ${formatNumber(off, 2)} over the travel` : '',
    ]
      .filter(Boolean)
      .join('; '),
  };
}

function outOfRange({ minimum, maximum }: EndValue, keyed: number): { readonly because: string } | undefined {
  if (minimum !== '' && keyed < Number(minimum)) return { because: `it takes ${minimum} at least` };
  if (maximum !== '' && keyed > Number(maximum)) return { because: `it takes ${maximum} at most` };
  return undefined;
}

/** As many decimals as the manual gives its factory value; whole numbers for a list that shows none. */
function decimalsOf({ factory, minimum, maximum }: EndValue): number | undefined {
  const given = [factory, minimum, maximum].filter((text) => /^-?\d+(\.\d+)?$/.test(text));
  if (given.length === 0) return undefined;
  return Math.max(...given.map((text) => text.split('.')[1]?.length ?? 0));
}

const wordsFor = (planned: PlannedSetting): string => {
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
function halved({ half, halfBase }: EndValue, key: string): string {
  if (half === 'whole' || halfBase === null) return key;
  const base = BigInt(Math.round(halfBase));
  const whole = /^\d+$/.test(key) ? BigInt(key) : BigInt(Math.round(Number(key)));
  return String(half === 'high' ? whole / base : whole % base);
}

/** Puts the two halves of a value together again. */
export const joinHalves = (high: number, low: number, base: number): number => high * base + low;

/** The fields of bits of one code, put together; a field without a plan keeps its factory value. */
function packed(
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

/** A value found at an end, as it was typed or came from a file. */
export type FoundValues = Readonly<Record<string, string>>;

/** Something that is set otherwise than planned. */
export interface EndMismatch {
  readonly code: string;
  readonly label: string;
  readonly found: string;
  readonly planned: string;
  readonly meaning: string;
}

/** Compares what was found with what is to be keyed; codes without a found value are passed over. */
export const mismatches = (rows: readonly KeyInRow[], found: FoundValues): readonly EndMismatch[] =>
  rows.flatMap(({ code, label, key, meaning, step }) => {
    const is = found[code];
    if (
      (step !== 'value' && step !== 'switches') ||
      key === undefined ||
      is === undefined ||
      is.trim() === '' ||
      sameValue(is, key)
    )
      return [];
    return [{ code, label, found: is, planned: key, meaning }];
  });

function sameValue(a: string, b: string): boolean {
  const [x, y] = [readNumber(a), readNumber(b)];
  if (x === undefined || y === undefined) return a.trim().toLowerCase() === b.trim().toLowerCase();
  return Math.abs(x - y) <= 1e-9 * Math.max(Math.abs(x), Math.abs(y));
}

function readNumber(text: string): number | undefined {
  const bare = text.replace(/[\s\u202f]/g, '');
  const fraction = /^(-?[\d.]+)\/([\d.]+)$/.exec(bare);
  const value = fraction ? Number(fraction[1]) / Number(fraction[2]) : Number(bare);
  return bare !== '' && Number.isFinite(value) ? value : undefined;
}

/** What a text told of the values at an end. */
export interface FoundReading {
  readonly found: FoundValues;
  /** Lines that name no code of the list, with their numbers. */
  readonly strange: readonly { readonly line: number; readonly text: string }[];
}

/**
 * Reads values from text: a line each, the code first, then the value after `=`, `:`, `;`, `,`, a tab or spaces. Empty lines and
 * those that begin with `#` are passed over.
 */
export function readFoundValues(text: string, codes: readonly string[]): FoundReading {
  const found: Record<string, string> = {};
  const strange: { line: number; text: string }[] = [];
  const byLength = [...codes].sort((a, b) => b.length - a.length);
  text.split(/\r?\n/).forEach((whole, index) => {
    const line = whole.trim();
    if (line === '' || line.startsWith('#')) return;
    const code = byLength.find(
      (each) => line.toLowerCase().startsWith(each.toLowerCase()) && /^[\s=:;,]/.test(line.slice(each.length)),
    );
    const value = code && line.slice(code.length).replace(/^[\s=:;,]+/, '');
    if (code && value) found[code] = value.slice(0, 60);
    else strange.push({ line: index + 1, text: line.slice(0, 80) });
  });
  return { found, strange };
}
