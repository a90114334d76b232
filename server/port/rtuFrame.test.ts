import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readRtuAnswer, rtuRequest, withCheck } from './rtuFrame.ts';
import type { ModbusRequest } from './transport.ts';

const read: ModbusRequest = { kind: 'read', address: 40, words: 2, function: 3 };
const writeOne: ModbusRequest = { kind: 'write', address: 16, words: [1] };
const writeTwo: ModbusRequest = { kind: 'write', address: 100, words: [0x1234, 0x5678] };

describe('frames of a serial line', () => {
  it('carry the check of the specification (Serial Line V1.02, 6.2.2: 02 07 is followed by 41 12)', () => {
    expect([...withCheck([0x02, 0x07])]).toEqual([0x02, 0x07, 0x41, 0x12]);
  });

  it('a value of two words goes in one request of function 16 (Application Protocol V1.1b3, 6.12)', () => {
    expect([...rtuRequest(3, writeTwo)].slice(0, -2)).toEqual([3, 16, 0, 100, 0, 2, 4, 0x12, 0x34, 0x56, 0x78]);
    expect([...rtuRequest(3, writeOne)].slice(0, -2)).toEqual([3, 6, 0, 16, 0, 1]);
    expect([...rtuRequest(3, read)].slice(0, -2)).toEqual([3, 3, 0, 40, 0, 2]);
  });

  const answers: readonly (readonly [string, ModbusRequest, readonly number[], object])[] = [
    ['two registers', read, [1, 3, 4, 0, 5, 0xff, 0xfe], { kind: 'answered', words: [5, 0xfffe] }],
    ['an exception', read, [1, 0x83, 2], { kind: 'exception', code: 2 }],
    ['the echo of one', writeOne, [1, 6, 0, 16, 0, 1], { kind: 'answered', words: [] }],
    ['the echo of several', writeTwo, [1, 16, 0, 100, 0, 2], { kind: 'answered', words: [] }],
  ];
  it.each(answers)('%s: whole only at its last byte, and with no bit of it changed', (_, request, body, answer) => {
    const frame = withCheck(body);
    for (let length = 0; length < frame.length; length++)
      expect(readRtuAnswer(1, request, frame.subarray(0, length))).toBeUndefined();
    expect(readRtuAnswer(1, request, frame)).toEqual({ answer, length: frame.length });
    expect(readRtuAnswer(1, request, Buffer.concat([frame, Buffer.of(1, 3)]))).toEqual({
      answer,
      length: frame.length,
    });
    for (let bit = 0; bit < 8 * frame.length; bit++) {
      const wrong = Buffer.from(frame);
      wrong[bit >> 3] = (wrong[bit >> 3] ?? 0) ^ (1 << (bit & 7));
      const result = readRtuAnswer(1, request, wrong);
      expect(result === undefined || result === 'strange', `bit ${bit}`).toBe(true);
    }
  });

  it('of another unit, another function, another length, another value are not the answer', () => {
    const strange: readonly (readonly [ModbusRequest, readonly number[]])[] = [
      [read, [2, 3, 4, 0, 5, 0, 6]],
      [read, [1, 4, 4, 0, 5, 0, 6]],
      [read, [1, 3, 2, 0, 5]],
      [writeOne, [1, 6, 0, 16, 0, 2]],
      [writeOne, [1, 6, 0, 17, 0, 1]],
      [writeTwo, [1, 16, 0, 100, 0, 1]],
      // The late answer to a status that was asked for before.
      [writeOne, [1, 3, 2, 0, 64]],
    ];
    for (const [request, body] of strange) expect(readRtuAnswer(1, request, withCheck(body))).toBe('strange');
  });

  it('noise is never an answer', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 40 }), (bytes) => {
        for (const request of [read, writeOne, writeTwo]) {
          const result = readRtuAnswer(1, request, Buffer.from(bytes));
          expect(typeof result === 'object').toBe(false);
        }
      }),
      { seed: 3, numRuns: 3000 },
    );
  });
});
