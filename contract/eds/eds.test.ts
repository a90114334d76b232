import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDriveProfile } from '../driveProfileFile.ts';
import { edsToMap, type AddressRule } from './edsToMap.ts';
import { edsNumber, readEds, type Eds } from './readEds.ts';

const text = readFileSync(new URL('../test/drive.eds', import.meta.url), 'utf8');
const read = (of = text): Eds => {
  const result = readEds(of);
  if (result.kind === 'refused') throw new Error(result.problems.join(' '));
  return result.eds;
};
const object = (index: number, sub = 0) => read().objects.find((each) => each.index === index && each.sub === sub);
const rules: readonly AddressRule[] = [
  { from: 0x1000, to: 0x10ff, base: 0, stride: 16, step: 2 },
  { from: 0x2000, to: 0x20ff, base: 0x2000, stride: 16, step: 2 },
  { from: 0x6000, to: 0x6fff, base: 0x4000, stride: 8, step: 2 },
];
const options = { name: 'Servo', wordOrder: 'high word first' };

describe('an electronic data sheet (CiA 306)', () => {
  it('numbers are decimal, hexadecimal, or octal with a leading 0', () => {
    expect(['12', '0x1F', '010', '0', '-5', '0xFFFFFFFF'].map(edsNumber)).toEqual([12, 31, 8, 0, -5, 4294967295]);
    expect(['', '08', '0x', '1.5', '1e3', '$NODEID', '0x123456789', '1,000'].map(edsNumber)).toEqual(
      Array(8).fill(undefined),
    );
  });

  it('gives names, types, ranges, defaults and access', () => {
    expect(read().product).toBe('Servo with field bus');
    expect(object(0x605a)).toMatchObject({
      name: 'Quick stop option code',
      type: 'i16',
      access: 'rw',
      minimum: 0,
      maximum: 8,
      factory: 2,
    });
    expect(object(0x6099, 1)).toMatchObject({ name: 'Homing speeds: Speed during search for switch', type: 'u32' });
    // Octal 010 is 8, octal 020 is 16.
    expect([1, 2, 3].map((sub) => object(0x2000, sub))).toMatchObject(
      [1, 2, 3].map((k) => ({ name: `Filter times ${k}`, minimum: 8, maximum: 100, factory: 16 })),
    );
    // How many sub-indices there are is no value, and neither is a group of its own.
    expect([object(0x1018), object(0x1018, 0), object(0x6099, 0)]).toEqual([undefined, undefined, undefined]);
  });

  it('limits of signed types are two’s complement, of their own width or of 32 bits', () => {
    expect(object(0x607c)).toMatchObject({ minimum: -(2 ** 31), maximum: 2 ** 31 - 1, factory: -5 });
    expect(object(0x607d, 1)?.factory).toBe(-100);
    expect(object(0x2002)).toMatchObject({ type: 'i16', minimum: -128, maximum: 127, factory: -2 });
    expect(object(0x6098)).toMatchObject({ minimum: -4, maximum: 37, factory: undefined });
  });

  it('what depends on a node number is unknown, not 128', () => {
    expect(object(0x1014)).toMatchObject({ access: 'rw', factory: undefined });
  });

  it.each<[string, (good: string) => string, RegExp]>([
    ['nothing', () => '', /no sections of objects/],
    ['text before a section', (good) => `oops\n${good}`, /Line 1: “oops” is neither/],
    ['a section twice', (good) => `${good}\n[6040]\n`, /\[6040\] occurs twice, first in line/],
    [
      'an entry twice',
      (good) => good.replace('AccessType=rww', 'AccessType=rww\nAccessType=ro'),
      /accesstype occurs twice/,
    ],
    ['no access', (good) => good.replace('AccessType=rww\n', ''), /the object has no AccessType/],
    [
      'an unknown access',
      (good) => good.replace('AccessType=rww', 'AccessType=maybe'),
      /Line \d+: AccessType is ro, wo/,
    ],
    ['no name', (good) => good.replace('ParameterName=Statusword\n', ''), /has no ParameterName/],
    ['a wrong data type', (good) => good.replace('DataType=0x0003', 'DataType=INT'), /Line \d+: DataType “INT”/],
    [
      'a limit beyond its type',
      (good) => good.replace('HighLimit=8', 'HighLimit=70000'),
      /70000 does not fit its data type of 16 bits/,
    ],
    ['a limit that is no number', (good) => good.replace('HighLimit=8', 'HighLimit=eight'), /“eight” is not a number/],
    [
      'limits that cross',
      (good) => good.replace('LowLimit=0\n', 'LowLimit=9\n'),
      /LowLimit 9 is above its HighLimit 8/,
    ],
    ['a listed object without a section', (good) => good.replace('1=0x2000', '1=0x2FFF'), /object 0x2fff is listed/],
    [
      'a sub-index without its object',
      (good) => good.replace('[6091]', '[7777]'),
      /\[6091sub1\] has no section \[6091\]/,
    ],
    [
      'a compact count that is none',
      (good) => good.replace('CompactSubObj=3', 'CompactSubObj=-1'),
      /CompactSubObj is a whole number/,
    ],
  ])('%s is refused, with its line', (_, change, words) => {
    const result = readEds(change(text));
    expect(result.kind === 'refused' && result.problems.join(' ')).toMatch(words);
  });

  it('whatever is fed in, it answers with objects or with reasons', () => {
    const line = fc.oneof(fc.constantFrom(...text.split('\n')), fc.string({ maxLength: 40 }));
    fc.assert(
      fc.property(fc.array(line, { maxLength: 60 }), (lines) => {
        const result = readEds(lines.join('\n'));
        if (result.kind === 'refused') {
          expect(result.problems.length).toBeGreaterThan(0);
          return;
        }
        for (const { minimum, maximum } of result.eds.objects)
          if (minimum !== undefined && maximum !== undefined) expect(minimum).toBeLessThanOrEqual(maximum);
      }),
      { seed: 3, numRuns: 300 },
    );
  });
});

describe('a register map from an electronic data sheet', () => {
  const map = (of = rules) => edsToMap(read(), of, options);
  const profile = () => {
    const result = readDriveProfile(map().csv);
    if (result.kind === 'refused') throw new Error(result.problems.join(' '));
    return result.profile;
  };

  it('addresses follow the rules, and the map can be imported', () => {
    // By hand: 0x4000 + (0x6099 − 0x6000) · 8 + 2 · 2.
    expect(profile().parameters.find(({ key }) => key === 'object6099sub02')).toMatchObject({
      address: 0x4000 + 0x99 * 8 + 4,
    });
    expect(profile().registers.statusword?.address).toBe(0x4000 + 0x41 * 8);
    expect(Object.keys(profile().registers).sort()).toEqual(
      [
        'controlword',
        'deviceType',
        'identityFirmware',
        'identityKind',
        'identitySerial',
        'modeOfOperation',
        'object1001',
      ]
        .concat(['object1018sub01', 'statusword', 'store'])
        .sort(),
    );
  });

  it('what the sheet does not tell stays unknown: raw values, no factory value, and no gear of pulses', () => {
    const of = (key: string) => profile().parameters.find((each) => each.key === key);
    expect(of('object6065')).toMatchObject({
      unit: 'raw',
      factory: 1000,
      minimum: 0,
      maximum: 4294967295,
      takesEffect: 'after restart',
    });
    expect(of('object6098')).toMatchObject({ role: 'homingMethod', unit: '' });
    expect(of('object6098')).not.toHaveProperty('factory');
    expect(profile().watchdogFedBy).toBe('nothing');
    expect(
      profile()
        .parameters.flatMap(({ role }) => role ?? [])
        .sort(),
    ).toEqual(['homingMethod', 'quickStopOption']);
  });

  it('objects without a rule, of other types or constant are left out and named', () => {
    expect(map().left.map(({ object: { index }, because }) => [index, because])).toEqual([
      [0x2001, 'its data type does not fit one or two registers'],
    ]);
    expect(
      map(rules.slice(2)).left.filter(({ because }) => because.includes('no address range')).length,
    ).toBeGreaterThan(5);
    const far = [{ from: 0x1000, to: 0x6fff, base: 65000, stride: 1, step: 1 }];
    expect(map(far).left.some(({ because }) => because.includes('outside 0 to 65535'))).toBe(true);
  });

  it('names what has to have an address, so that wrong ones show at the first connect', () => {
    expect(map().unproven).toEqual([]);
    expect(map(rules.slice(1)).unproven).toEqual([
      'object 0x1000, the device type',
      'object 0x1018:2, the product code',
    ]);
  });

  it('addresses that collide are refused as in any map', () => {
    const narrow = rules.map((rule) => ({ ...rule, stride: 1, step: 1 }));
    const result = readDriveProfile(edsToMap(read(), narrow, options).csv);
    expect(result.kind === 'refused' && result.problems.join(' ')).toContain('is also that of');
  });
});
