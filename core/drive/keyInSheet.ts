import type { EndUnits } from './inEndUnit.ts';
import type { KeyInStep, SheetStep, PlannedSetting, EndValue, KeyInRow } from './endValue.ts';
import { keyOf, wordsFor, halved, packed } from './settingKey.ts';

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
  'The drive reads its switches only at power-up.',
);

const supplyOnRow = ownRow('switches', 'Switch on', '');

const restartRow = ownRow(
  'restarts',
  'Switch off, wait until the display is dark, switch on',
  'Some values take effect only after power-up.',
);

const checkRow = ownRow(
  'checks',
  'Read the values again and compare them with this sheet',
  'Tick every value that matches the plan.',
);

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
