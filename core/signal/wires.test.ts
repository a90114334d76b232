import { describe, expect, it } from 'vitest';
import {
  alarmCases,
  analogWires,
  choiceWires,
  doubledTerminals,
  looseWires,
  limitCases,
  protectionWires,
  pulseWires,
  pwmWires,
  type AxisWiring,
} from './index.ts';

const wiring: AxisWiring = {
  enable: { isWired: true, controllerLevel: 'high', driveLevel: 'high' },
  alarm: { contact: 'normallyClosed', joined: 'alone', drives: 1 },
  limits: { contact: 'normallyClosed', activeLevel: 'low', plusInputAt: 'plus' },
  safeTorqueOff: 'two channels',
  homing: { by: 'drive', method: 1 },
  brake: 'none',
  isLoopInController: false,
};
const keysOf = (change: Partial<AxisWiring>) => protectionWires({ ...wiring, ...change }).map(({ key }) => key);
const one = (key: string, change: Partial<AxisWiring> = {}) =>
  protectionWires({ ...wiring, ...change }).find((wire) => wire.key === key);

describe('the wires of an axis', () => {
  it('are those that its protection, homing, brake and loop need, and no others', () => {
    expect(keysOf({})).toEqual([
      'enable',
      'alarm',
      'minus limit',
      'plus limit',
      'safe torque off 1',
      'safe torque off 2',
      'encoder',
    ]);
    expect(
      keysOf({ enable: { ...wiring.enable, isWired: false }, limits: undefined, safeTorqueOff: 'bridged' }),
    ).toEqual(['alarm', 'encoder']);
    expect(keysOf({ homing: { by: 'controller', method: 7 }, brake: 'drive', isLoopInController: true })).toEqual(
      expect.arrayContaining(['home', 'brake', 'encoder output']),
    );
    expect(one('home', { homing: { by: 'controller', method: 7 } })?.to).toBe('controller');
    expect(one('brake', { brake: 'controller' })?.from).toBe('controller');
  });

  it('broken, do what the cases of enable, alarm and limits say', () => {
    for (const contact of ['normallyClosed', 'normallyOpen'] as const)
      for (const joined of ['alone', 'series', 'parallel'] as const)
        for (const drives of [1, 3]) {
          const alarm = { contact, joined, drives };
          const isSeen = alarmCases(alarm).find(({ situation }) => situation === 'broken wire')?.isSeen;
          expect(one('alarm', { alarm })?.broken.isSafe).toBe(isSeen);
        }
    for (const activeLevel of ['low', 'high'] as const) {
      const limits = { contact: 'normallyClosed', activeLevel, plusInputAt: 'plus' } as const;
      expect(one('plus limit', { limits })?.broken.isSafe).toBe(limitCases(limits).brokenWireStops);
    }
    expect(one('enable')?.broken).toEqual({ effect: 'the drive switches off', isSafe: true });
    const inverted = { isWired: true, controllerLevel: 'low', driveLevel: 'low' } as const;
    expect(one('enable', { enable: inverted })?.broken).toEqual({ effect: 'the drive stays enabled', isSafe: false });
  });

  it('a switch at the other end is told by the input that it is wired to', () => {
    const limits = { contact: 'normallyClosed', activeLevel: 'low', plusInputAt: 'minus' } as const;
    expect(one('minus limit', { limits })).toMatchObject({ from: 'minus limit switch', label: 'Plus limit input' });
  });

  it('of a command: two cores a differential line, a common for single-ended ones', () => {
    expect(pulseWires('stepDirection', 'differential').map(({ label }) => label)).toEqual([
      'Pulses +',
      'Pulses −',
      'Direction +',
      'Direction −',
    ]);
    expect(pulseWires('quadrature', 'singleEnded').map(({ label }) => label)).toEqual([
      'Channel A',
      'Channel B',
      'Common of the pulse inputs',
    ]);
    expect(pulseWires('stepDirection', 'differential').at(-1)?.broken.isSafe).toBe(false);
    // A live zero tells a lost signal only to a drive that looks for it (NAMUR NE 43, IEC 60381-1).
    expect(analogWires('speed', '4–20 mA', true)[0]?.broken.isSafe).toBe(true);
    expect(analogWires('speed', '4–20 mA', false)[0]?.broken.isSafe).toBe(false);
    expect(analogWires('speed', '±10 V', true)[0]?.broken.isSafe).toBe(false);
    expect(pwmWires('speed', true).map(({ key }) => key)).toEqual(['pwm', 'pwm common']);
    expect(choiceWires(['A', 'B']).map(({ label }) => label)).toEqual(['A', 'B', 'Common of the inputs']);
  });

  it('a terminal that two wires are said to end at is found, whatever its letters; a common may be shared', () => {
    const wires = [...pulseWires('stepDirection', 'singleEnded'), ...protectionWires(wiring)];
    const ends = {
      'pulse 0': { from: 'X1.1', to: 'J2.7' },
      'pulse 1': { from: 'X1.2', to: 'j2.7 ' },
      'pulse common': { from: 'X1.1', to: 'J2.9' },
      // The same name at another device is another terminal.
      alarm: { from: 'J2.20', to: 'J2.7' },
      enable: { from: '', to: '' },
    };
    expect(doubledTerminals(wires, ends)).toEqual([{ end: 'drive', terminal: 'J2.7', wires: ['Pulses', 'Direction'] }]);
    expect(doubledTerminals(wires, {})).toEqual([]);
  });

  it('with a terminal at one end only, is an input that nobody drives or an output that leads nowhere', () => {
    const ends = {
      enable: { from: ' ', to: 'J2.15' },
      alarm: { from: 'J2.20', to: '' },
      encoder: { from: '', to: '' },
    };
    expect(looseWires(protectionWires(wiring), ends)).toEqual([
      { label: 'Enable', end: 'drive', terminal: 'J2.15', open: 'controller' },
      { label: 'Alarm', end: 'drive', terminal: 'J2.20', open: 'controller' },
    ]);
  });

  it('say when their receivers take them as active', () => {
    expect(one('enable')?.active).toBe('input active high, controller drives high');
    expect(one('alarm')?.active).toMatch(/^contact normally (closed|open)$/);
    const limits = { contact: 'normallyOpen', activeLevel: 'high', plusInputAt: 'plus' } as const;
    expect(one('plus limit', { limits })?.active).toBe('contact normally open, input active high');
  });
});
