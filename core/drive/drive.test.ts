import { describe, expect, it } from 'vitest';
import {
  controlword,
  decodeRegisters,
  deviceState,
  encodeRegisters,
  fromRaw,
  nextTowardsEnabled,
  readBlocks,
  statusBits,
  toRaw,
  type RegisterType,
  commandedState,
  type DeviceState,
} from './index.ts';
import { smallProfile } from '../test/sampleProfile.ts';

describe('device states, IEC 61800-7-201 statusword table', () => {
  it.each([
    [0x0000, 'not ready to switch on'],
    [0x0250, 'switch on disabled'],
    [0x0231, 'ready to switch on'],
    [0x0233, 'switched on'],
    [0x0637, 'operation enabled'],
    [0x0217, 'quick stop active'],
    [0x021f, 'fault reaction active'],
    [0x0218, 'fault'],
  ])('0x%s', (word, state) => expect(deviceState(word)).toBe(state));

  it('reaches operation enabled from everywhere by controlwords', () => {
    const after: Readonly<Record<number, string>> = {
      0x06: 'ready to switch on',
      0x07: 'switched on',
      0x0f: 'operation enabled',
      0x80: 'switch on disabled',
      0x00: 'switch on disabled',
    };
    for (const start of ['fault', 'quick stop active', 'switch on disabled', 'switched on'] as const) {
      let state: string = start;
      for (let k = 0; k < 6; k++) {
        const word = nextTowardsEnabled(state as never);
        if (word !== undefined) state = after[word] ?? 'lost';
      }
      expect(state).toBe('operation enabled');
      expect(deviceState(statusBits(start))).toBe(start);
    }
    expect(controlword.quickStop).toBe(2);
  });
});

describe('the state machine, IEC 61800-7-201 (from memory)', () => {
  it.each<[from: DeviceState, word: number, before: number, mayRun: boolean, to: DeviceState]>([
    ['switch on disabled', 0x06, 0, true, 'ready to switch on'], // transition 2
    ['ready to switch on', 0x07, 0x06, true, 'switched on'], // 3
    ['switched on', 0x0f, 0x07, true, 'operation enabled'], // 4
    ['switched on', 0x0f, 0x07, false, 'switched on'], // its enable terminal is open
    ['operation enabled', 0x07, 0x0f, true, 'switched on'], // 5
    ['switched on', 0x06, 0x07, true, 'ready to switch on'], // 6
    ['ready to switch on', 0x00, 0x06, true, 'switch on disabled'], // 7
    ['operation enabled', 0x06, 0x0f, true, 'ready to switch on'], // 8
    ['operation enabled', 0x00, 0x0f, true, 'switch on disabled'], // 9
    ['switched on', 0x02, 0x07, true, 'switch on disabled'], // 10
    ['operation enabled', 0x02, 0x0f, true, 'quick stop active'], // 11
    ['quick stop active', 0x00, 0x02, true, 'switch on disabled'], // 12
    ['fault', 0x80, 0x00, true, 'switch on disabled'], // 15
    ['fault', 0x80, 0x80, true, 'fault'], // a reset is an edge
    ['fault', 0x0f, 0x00, true, 'fault'],
    ['quick stop active', 0x02, 0x02, true, 'quick stop active'],
    ['switch on disabled', 0x0f, 0x00, true, 'switch on disabled'], // no step is left out
  ])('%s with 0x%x (before 0x%x, enable %s) → %s', (from, word, before, mayRun, to) =>
    expect(commandedState(from, word, before, mayRun)).toBe(to),
  );
});

describe('registers', () => {
  it('agree with DataView, a big-endian machine word', () => {
    const view = new DataView(new ArrayBuffer(4));
    const cases: [RegisterType, number][] = [
      ['i32', -2],
      ['i32', 2147483647],
      ['u32', 4294967295],
      ['i16', -32768],
      ['u16', 65535],
      ['i32', -1234567],
    ];
    for (const [type, value] of cases) {
      view.setInt32(0, 0);
      if (type === 'i32') view.setInt32(0, value);
      if (type === 'u32') view.setUint32(0, value);
      if (type === 'i16') view.setInt16(0, value);
      if (type === 'u16') view.setUint16(0, value);
      const words = type.endsWith('16') ? [view.getUint16(0)] : [view.getUint16(0), view.getUint16(2)];
      expect(encodeRegisters(value, type)).toEqual(words);
      expect(decodeRegisters(words, type)).toBe(value);
      expect(encodeRegisters(value, type, 'low word first')).toEqual([...words].reverse());
      expect(decodeRegisters([...words].reverse(), type, 'low word first')).toBe(value);
    }
    expect(() => encodeRegisters(65536, 'u16')).toThrow('does not fit');
    expect(() => encodeRegisters(0.5, 'u16')).toThrow('does not fit');
  });

  it('scales, rounds and refuses what is out of range', () => {
    const gain = smallProfile.parameters[1];
    if (!gain) throw new Error('no parameter');
    expect(toRaw(gain, 45.5)).toEqual({ raw: 455 });
    expect(fromRaw(gain, 455)).toBe(45.5);
    expect(toRaw(gain, NaN)).toHaveProperty('because');
    expect(toRaw(gain, 501)).toEqual({ because: 'positionGain takes 0 to 500 1/s' });
  });

  it('reads neighbours together and never more than 125 words', () => {
    const one = (address: number) => ({ address, type: 'i32' as const });
    expect(readBlocks([one(10), one(12), one(100), one(16)])).toEqual([
      { address: 10, words: 8, function: 3 },
      { address: 100, words: 2, function: 3 },
    ]);
    // Input registers are numbered apart.
    expect(readBlocks([one(10), { ...one(12), function: 4 }])).toHaveLength(2);
    const many = readBlocks(Array.from({ length: 100 }, (_, k) => one(2 * k)));
    expect(many.every((block) => block.words <= 125)).toBe(true);
    expect(many.reduce((sum, block) => sum + block.words, 0)).toBe(200);
  });
});
