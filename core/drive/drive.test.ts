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
      { address: 10, words: 8 },
      { address: 100, words: 2 },
    ]);
    const many = readBlocks(Array.from({ length: 100 }, (_, k) => one(2 * k)));
    expect(many.every((block) => block.words <= 125)).toBe(true);
    expect(many.reduce((sum, block) => sum + block.words, 0)).toBe(200);
  });
});
