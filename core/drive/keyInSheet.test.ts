import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { exact, type Exact } from '../quantity/index.ts';
import {
  genericControllerValues,
  joinHalves,
  keyInSheet,
  mismatches,
  readFoundValues,
  unpack,
  type EndUnits,
  type EndValue,
  type PlannedSetting,
} from './index.ts';

const [blank] = genericControllerValues('mm', 'pulses') as [EndValue];
const value = (code: string, changes: Partial<EndValue>): EndValue => ({
  ...blank,
  code,
  label: code,
  unit: '',
  role: null,
  ...changes,
});
const plan = (settings: Readonly<Record<string, PlannedSetting>>) => new Map(Object.entries(settings));
const number = (is: number, unit = ''): PlannedSetting => ({ kind: 'number', value: is, unit });
const scale = (of: Exact, unit = '', span?: number): PlannedSetting => ({
  kind: 'exact',
  value: of,
  unit,
  ...(span === undefined ? {} : { span }),
});
/** 2 µm a count, 10 µm a pulse, 5 mm a motor turn. */
const units: EndUnits = { axisUnit: 'mm', perCount: 0.002, perPulse: 0.01, perMotorTurn: 5 };
const keyOf = (changes: Partial<EndValue>, planned: PlannedSetting) =>
  keyInSheet([value('P', { role: 'r', ...changes })], plan({ r: planned }), units)[0];

describe('what to key, by hand', () => {
  it.each<[string, Partial<EndValue>, PlannedSetting, string]>([
    ['1 mm in counts of 2 µm', { unit: 'counts' }, number(1, 'mm'), '500'],
    ['1 mm in pulses of 10 µm', { unit: 'pulses' }, number(1, 'mm'), '100'],
    ['25 mm/s in motor turns', { unit: 'rev/s' }, number(25, 'mm/s'), '5'],
    ['a gain kept in steps of 0.1', { unit: '1/s', scale: 0.1 }, number(40, '1/s'), '400'],
    ['decimals as the manual writes them', { factory: '1.00' }, number(14), '14.00'],
    ['20 µs', { unit: 'µs' }, number(0.00002, 's'), '20'],
    ['an inch in mm', { unit: 'in' }, number(25.4, 'mm'), '1'],
    ['a word by its number', { choices: '0 = low: closed; 1 = high: open' }, { kind: 'word', word: 'high' }, '1'],
    ['a word where there are no numbers', {}, { kind: 'word', word: 'quadrature' }, 'quadrature'],
    ['a third, with twelve digits', {}, scale(exact(40000, 3)), '13333.3333333'],
    // 15728640/127 = 123 847.559 055 118 …; over 800 mm a tenth of a pulse asks for four decimals.
    ['a scale, good over its travel', {}, scale(exact(15728640, 127), 'pulses/mm', 800), '123847.5591'],
    [
      'the same in inches: 25.4 times, so 3 145 728',
      { unit: 'pulses/in' },
      scale(exact(15728640, 127), 'pulses/mm', 800),
      '3145728',
    ],
    [
      'as many decimals as the manual gives',
      { factory: '80.00' },
      scale(exact(15728640, 127), 'pulses/mm', 800),
      '123847.56',
    ],
    ['100 rad/s as a frequency', { unit: 'Hz', factory: '0.00' }, number(100, 'rad/s'), '15.92'],
    ['a ratio in per cent', { unit: '%' }, number(2.5), '250'],
    ['25 mm/s as rpm of a motor with 5 mm a turn', { unit: 'rpm' }, number(25, 'mm/s'), '300'],
    ['pulses per mm as pulses per metre', { unit: 'pulses/m' }, number(4, 'pulses/mm'), '4000'],
    ['the high half, ten thousands', { half: 'high', halfBase: 10000 }, scale(exact(147456)), '14'],
    ['the low half', { half: 'low', halfBase: 10000 }, scale(exact(147456)), '7456'],
    ['a half of 16 bits beyond doubles', { half: 'low', halfBase: 65536 }, scale(exact(2n ** 60n + 9n)), '9'],
  ])('%s', (_, changes, planned, key) => expect(keyOf(changes, planned)).toMatchObject({ key }));

  it.each<[string, Partial<EndValue>, PlannedSetting, string]>([
    ['too much', { maximum: '300' }, number(400), 'the maximum is 300'],
    ['too little', { minimum: '1' }, scale(exact(0)), 'the minimum is 1'],
    [
      'a word it has no number for',
      { choices: '0 = low' },
      { kind: 'word', word: 'high' },
      '“high” is not one of its options',
    ],
    ['another kind of quantity', { unit: 'V' }, number(1, 'mm'), 'mm cannot be given in V'],
  ])('%s is told of, not keyed', (_, changes, planned, because) =>
    expect(keyOf(changes, planned)).toMatchObject({ key: undefined, because }),
  );

  it('halves put together give the value back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2 ** 31 }), fc.constantFrom(10000, 65536), (whole, halfBase) => {
        const half = (which: 'high' | 'low') => Number(keyOf({ half: which, halfBase }, scale(exact(whole)))?.key);
        expect(joinHalves(half('high'), half('low'), halfBase)).toBe(whole);
      }),
    );
  });

  it('bit fields of one code are keyed as one number and can be taken apart again', () => {
    const fields = [
      value('G', { label: 'form', firstBit: 0, bits: 3, role: 'form', choices: '0 = step; 2 = quadrature' }),
      value('G', { label: 'level', firstBit: 4, bits: 1, role: 'level', choices: '0 = high; 1 = low' }),
      value('G', { label: 'filter', firstBit: 8, bits: 3, factory: '5' }),
    ];
    const [row, ...rest] = keyInSheet(
      fields,
      plan({ form: { kind: 'word', word: 'quadrature' }, level: { kind: 'word', word: 'low' } }),
      units,
    );
    // 2 + 1 · 16 + 5 · 256
    expect(row).toMatchObject({ key: '1298', meaning: 'form quadrature, level low, filter 5' });
    expect(rest.map(({ step }) => step)).toEqual(['checks']);
    expect(unpack(fields, 1298)).toEqual([2, 1, 5]);
    const full = fields.map((each) => (each.label === 'filter' ? { ...each, factory: '9' } : each));
    expect(keyInSheet(full, plan({ form: { kind: 'word', word: 'step' } }), units)[0]).toMatchObject({
      because: 'filter takes whole numbers from 0 to 7',
    });
  });
});

describe('the sheet', () => {
  const values = [
    value('9', { keyIn: 'stores', factory: '0', keyValue: '1' }),
    value('5', { role: 'a', takesEffect: 'after restart' }),
    value('6', { role: 'unplanned' }),
    value('2', { keyIn: 'resets others', role: 'b' }),
    value('1', { keyIn: 'unlocks', factory: '0', keyValue: '315', shows: 'open' }),
    value('3', { role: null, factory: '0', keyValue: '2041' }),
  ];
  const sheet = keyInSheet(values, plan({ a: number(3), b: number(4) }), units);

  it('goes from unlocking over what resets others to storing and restarting, and leaves out what is not planned', () => {
    expect(sheet.map(({ step, code, label, key }) => [step, code === label && !key ? '' : code, key])).toEqual([
      // What to key, not what the factory has set.
      ['unlocks', '1', '315'],
      ['resets others', '2', '4'],
      ['value', '5', '3'],
      // A number that means nothing to Kavrid stands as it was given.
      ['value', '3', '2041'],
      ['stores', '9', '1'],
      ['restarts', '', undefined],
      ['checks', '', undefined],
    ]);
    expect(sheet[0]?.shows).toBe('open');
    expect(keyInSheet([value('6', { role: 'a' })], plan({ a: number(1) }), units)).toHaveLength(2);
    expect(keyInSheet([value('6', { role: 'a' })], plan({}), units)).toEqual([]);
  });

  it('a factory reset comes before everything that it would erase, with its restart and the lock once more', () => {
    const withReset = [...values, value('0', { keyIn: 'factory reset', keyValue: '9' })];
    const rows = keyInSheet(withReset, plan({ a: number(3) }), units);
    expect(rows.slice(0, 4).map(({ step, isAgain = false }) => [step, isAgain])).toEqual([
      ['unlocks', false],
      ['factory reset', false],
      ['restarts', true],
      ['unlocks', true],
    ]);
    expect(rows.slice(4).some(({ step }) => step === 'factory reset')).toBe(false);
  });

  it('a value that nothing plans stands with the user’s number, once it is put on the sheet', () => {
    const own = [...values, value('M', { role: null })];
    const codes = (given: Readonly<Record<string, string>>) =>
      keyInSheet(own, plan({ a: number(3) }), units, given).flatMap(({ code, key, isGiven }) =>
        isGiven ? [[code, key]] : [],
      );
    expect(codes({})).toEqual([
      ['1', '315'],
      ['2', undefined],
      ['3', '2041'],
      ['9', '1'],
    ]);
    expect(codes({ M: '12', 1: '999', 5: 'no' })).toEqual([
      ['1', '999'],
      ['2', undefined],
      ['3', '2041'],
      ['M', '12'],
      ['9', '1'],
    ]);
    expect(codes({ M: '' })).toContainEqual(['M', undefined]);
  });

  it('sets switches first, between switching off and on', () => {
    const switched = [...values, value('SW1', { role: 's' })];
    const rows = keyInSheet(switched, plan({ a: number(3), s: { kind: 'switches', positions: 'on off' } }), units);
    expect(rows.slice(0, 4).map(({ step, label, key }) => [step, label, key])).toEqual([
      ['switches', 'Switch off, wait until the display is dark', undefined],
      ['switches', 'SW1', 'on off'],
      ['switches', 'Switch on', undefined],
      ['unlocks', '1', '315'],
    ]);
    expect(new Set(rows.map(({ code, isAgain }) => `${code}${isAgain}`)).size).toBe(rows.length);
  });

  it('names what was found set otherwise; a number written otherwise is no difference', () => {
    const rows = keyInSheet(
      [value('A', { role: 'a' }), value('B', { role: 'b' }), value('C', { role: 'c' })],
      plan({ a: number(100), b: scale(exact(40000, 3)), c: { kind: 'word', word: 'High' } }),
      units,
    );
    expect(mismatches(rows, { A: '100.0', B: '40 000/3', C: 'high' })).toEqual([]);
    expect(
      mismatches(rows, { A: '99', B: '13333', C: 'low', D: 'x' }).map(({ code, found, planned }) => [
        code,
        found,
        planned,
      ]),
    ).toEqual([
      ['A', '99', '100'],
      ['B', '13333', '13333.3333333'],
      ['C', 'low', 'High'],
    ]);
    expect(mismatches(rows, { A: '', B: ' ' })).toEqual([]);
  });

  it('reads values from text however they are set apart, the longest code first', () => {
    const text = '# dump\nP1 = 12\nP10\t34\r\nlevel; high\n\nSteps per unit: 40000/3\nP2\nnonsense 5';
    expect(readFoundValues(text, ['P1', 'P10', 'P2', 'Level', 'Steps per unit'])).toEqual({
      found: { P1: '12', P10: '34', Level: 'high', 'Steps per unit': '40000/3' },
      strange: [
        { line: 7, text: 'P2' },
        { line: 8, text: 'nonsense 5' },
      ],
    });
  });
});
