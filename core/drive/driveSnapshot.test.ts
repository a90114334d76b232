import { describe, expect, it } from 'vitest';
import { smallProfile } from '../test/sampleProfile.ts';
import {
  belongsToOneDrive,
  valuesForClone,
  valuesToWrite,
  writeOrder,
  type DriveParameter,
  type DriveProfile,
} from './index.ts';

const [first] = smallProfile.parameters;
if (!first) throw new Error('the profile is empty');
const parameter = (key: string, more: Partial<DriveParameter> = {}): DriveParameter => ({
  ...first,
  key,
  label: key,
  ...more,
});

describe('what is written to a second drive', () => {
  it('is everything but what belongs to one drive: address, sense, home and absolute offsets, commutation, trims', () => {
    const own = [
      parameter('sense', { role: 'rotationSense' }),
      parameter('home', { object: '0x607C' }),
      parameter('polarity', { object: '0x607E:00' }),
      parameter('offset', { role: 'signalOffset' }),
      ...['Station address', 'Commutation angle', 'Absolute encoder zero', 'Analog trim', 'Baud rate'].map((label) =>
        parameter(label, { label }),
      ),
    ];
    const shared = [
      parameter('gear', { role: 'gearNumerator' }),
      parameter('limit', { object: '0x607D:01' }),
      // Its role says what it is, whatever its words.
      parameter('window', { role: 'followingErrorWindow', label: 'Absolute following error' }),
      parameter('name', { label: 'Addressing' }),
    ];
    expect(own.filter((each) => !belongsToOneDrive(each))).toEqual([]);
    expect(shared.filter(belongsToOneDrive)).toEqual([]);
    const values = Object.fromEntries([...own, ...shared].map(({ key }, index) => [key, index]));
    expect(Object.keys(valuesForClone([...own, ...shared], values))).toEqual(['gear', 'limit', 'window', 'name']);
  });

  it('goes to the same kind of drive only, and across axes by the same register map only', () => {
    const reading = { written: { gear: 3, sense: 1 }, running: { gear: 2, sense: 1 }, stored: {}, factory: {} };
    const snapshot = { memberId: 'a', identity: '77:1', map: 'M', reading };
    const parameters = [parameter('gear'), parameter('sense', { role: 'rotationSense' })];
    const to = (memberId: string, identity: string, map: string) =>
      valuesToWrite(snapshot, parameters, { memberId, identity, map });
    expect(to('a', '77:1', 'M')).toEqual({ isClone: false, values: { gear: 3, sense: 1 } });
    // The map has been renamed, or the drive replaced by another of its kind.
    expect(to('a', '77:2', 'N')).toEqual({ isClone: false, values: { gear: 3, sense: 1 } });
    expect(to('b', '77:2', 'M')).toEqual({ isClone: true, values: { gear: 3 } });
    expect(to('b', '77:2', 'N')).toHaveProperty('because');
    expect(to('a', '78:1', 'M')).toHaveProperty('because');
  });
});

describe('the order of writing', () => {
  const profile: DriveProfile = {
    ...smallProfile,
    parameters: [
      parameter('gain'),
      parameter('minus', { role: 'minusSoftLimit' }),
      parameter('plus', { role: 'plusSoftLimit' }),
      parameter('mode', { choices: { 0: 'a', 1: 'b' } }),
    ],
  };

  it('is modes first, then the map’s, and leaves out what is not written', () => {
    expect(writeOrder(profile, {}, { gain: 1, mode: 1 })).toEqual(['mode', 'gain']);
    expect(writeOrder(profile, {}, {})).toEqual([]);
  });

  it('keeps minus below plus at every step, wherever both limits go', () => {
    for (const [minus, plus] of [
      [100, 200],
      [-900, -800],
      [-5, 5],
      [300, 900],
    ] as const)
      for (const [newMinus, newPlus] of [
        [-50, 50],
        [400, 500],
        [-700, -600],
        [150, 250],
      ] as const) {
        const present: Record<string, number> = { minus, plus };
        const wanted = { minus: newMinus, plus: newPlus };
        for (const key of writeOrder(profile, present, wanted)) {
          present[key] = wanted[key as 'minus' | 'plus'];
          expect(present.minus).toBeLessThan(present.plus ?? NaN);
        }
        expect(present).toEqual(wanted);
      }
  });
});
