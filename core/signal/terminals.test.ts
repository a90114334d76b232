import { describe, expect, it } from 'vitest';
import { protectionWires, pulseWires, terminalProblems, type AxisWiring, type Terminal } from './index.ts';

const wiring: AxisWiring = {
  enable: { isWired: true, controllerLevel: 'high', driveLevel: 'high' },
  alarm: { contact: 'normallyClosed', joined: 'alone', drives: 1 },
  limits: { contact: 'normallyClosed', activeLevel: 'low', plusInputAt: 'plus' },
  safeTorqueOff: 'two channels',
  homing: { by: 'drive', method: 7 },
  brake: 'drive',
  isLoopInController: false,
};
const wires = [...pulseWires('stepDirection', 'differential'), ...protectionWires(wiring)];
const terminal = (name: string, use: Terminal['use'], isNeeded = false): Terminal => ({ name, use, isNeeded });
const drive = [
  terminal('J2.7', 'pulse command'),
  terminal('J2.15', 'enable'),
  terminal('J2.17', 'any input'),
  terminal('J2.21', 'any output'),
  terminal('J5.1', 'safe torque off', true),
  terminal('J5.2', 'safe torque off', true),
];
const of = (ends: Readonly<Record<string, { readonly from: string; readonly to: string }>>) =>
  terminalProblems('drive', drive, wires, ends);

describe('terminals of a device', () => {
  it('that fit say nothing, whatever their letters; a needed one that is not wired is told', () => {
    const ends = {
      'pulse 0 +': { from: 'X1', to: 'j2.7' },
      enable: { from: 'X2', to: 'J2.15' },
      'minus limit': { from: '', to: 'J2.17' },
      alarm: { from: 'J2.21', to: 'X9' },
      'safe torque off 1': { from: '', to: 'J5.1' },
    };
    expect(of(ends)).toEqual([{ kind: 'needed', device: 'drive', terminal: 'J5.2', use: 'safe torque off' }]);
  });

  it('that are not there, or for something else, are named with the wire', () => {
    const ends = {
      enable: { from: '', to: 'J2.99' },
      'plus limit': { from: '', to: 'J2.7' },
      // An output cannot be where an input is.
      alarm: { from: 'J2.17', to: '' },
      'safe torque off 1': { from: '', to: 'J5.1' },
      'safe torque off 2': { from: '', to: 'J5.2' },
    };
    expect(of(ends).map(({ kind, terminal: name }) => [kind, name])).toEqual([
      ['not there', 'J2.99'],
      ['other use', 'J2.17'],
      ['other use', 'J2.7'],
    ]);
  });

  it('say nothing before one is entered, and of a device whose terminals nobody has listed', () => {
    expect(of({})).toEqual([]);
    expect(terminalProblems('drive', [], wires, { enable: { from: '', to: 'J9' } })).toEqual([]);
  });
});
