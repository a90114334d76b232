import fc from 'fast-check';
import { connect } from 'node:net';
import { describe, expect, it } from 'vitest';
import { carriageWorld, makeServo } from '../index.ts';
import { answerPdu } from './answerPdu.ts';
import { mbapFrames, serveModbus } from './modbusServer.ts';

const devices = () => new Map([[1, makeServo(carriageWorld, { serial: 4711 })]]);
const answer = (...pdu: number[]) => [...answerPdu(devices(), 1, Uint8Array.from(pdu))];

describe('the answer to a request (Modbus Application Protocol V1.1b3)', () => {
  it.each<[string, number[], number[]]>([
    ['reads the statusword', [3, 0, 40, 0, 1], [3, 2, 0x06, 0x40]],
    ['reads it as an input register too', [4, 0, 40, 0, 1], [4, 2, 0x06, 0x40]],
    ['tells its serial number', [3, 0, 68, 0, 2], [3, 4, 0, 0, 0x12, 0x67]],
    ['echoes a written register', [6, 0, 16, 0, 1], [6, 0, 16, 0, 1]],
    ['echoes address and quantity of many', [16, 0, 4, 0, 2, 4, 0, 0, 0, 0], [16, 0, 4, 0, 2]],
    ['function that is not served: exception 1', [5, 0, 0, 0xff, 0], [0x85, 1]],
    ['no function at all: exception 1', [], [0x80, 1]],
    ['address that is not there: exception 2', [6, 0x0f, 0xff, 0, 1], [0x86, 2]],
    ['reading beyond the last register: exception 2', [3, 0xff, 0xff, 0, 2], [0x83, 2]],
    ['short request: exception 3', [3, 0, 40], [0x83, 3]],
    ['quantity of 0: exception 3', [3, 0, 40, 0, 0], [0x83, 3]],
    ['quantity of 126: exception 3', [3, 0, 40, 0, 126], [0x83, 3]],
    ['byte count that is not twice the quantity: exception 3', [16, 0, 4, 0, 2, 3, 0, 0, 0], [0x90, 3]],
    ['value that is refused: exception 3', [6, 0, 1, 0, 99], [0x86, 3]],
  ])('%s', (_, request, expected) => expect(answer(...request)).toEqual(expected));

  it('another unit is not there: exception 11', () => {
    expect([...answerPdu(devices(), 9, Uint8Array.of(3, 0, 0, 0, 1))]).toEqual([0x83, 11]);
  });

  it('is one for every request, whatever it is', () => {
    const all = devices();
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 260 }), fc.integer({ min: 0, max: 255 }), (pdu, unit) => {
        const [code = 0, exception = 0] = answerPdu(all, unit, pdu);
        if (code & 0x80) expect([1, 2, 3, 6, 11]).toContain(exception);
        else expect(code).toBe(pdu[0]);
      }),
      { numRuns: 2000, seed: 1 },
    );
  });
});

describe('frames on the wire', () => {
  const frame = (protocol: number, ...pdu: number[]) =>
    Buffer.from([0, 7, protocol >> 8, protocol & 0xff, 0, pdu.length + 1, 1, ...pdu]);

  it('come out whole however they are cut, and those of another protocol are passed over', () => {
    const stream = Buffer.concat([frame(0, 3, 0, 40, 0, 1), frame(5, 1, 2, 3), frame(0, 6, 0, 16, 0, 1)]);
    for (let size = 1; size <= stream.length; size++) {
      const codes: (number | undefined)[] = [];
      const take = mbapFrames((_header, _unit, pdu) => codes.push(pdu[0]));
      for (let at = 0; at < stream.length; at += size) expect(take(stream.subarray(at, at + size))).toBe(true);
      expect(codes).toEqual([3, 6]);
    }
  });

  it('a length that cannot be ends the connection, and no other', async () => {
    const server = await serveModbus(devices(), 0);
    const open = () => connect({ port: server.port, host: '127.0.0.1' });
    const [bad, good] = [open(), open()];
    const closed = new Promise((resolve) => bad.on('close', resolve));
    bad.on('error', () => undefined);
    bad.write(Buffer.from([0, 1, 0, 0, 0xff, 0xff, 1, 3]));
    await closed;
    const heard = new Promise<Buffer>((resolve) => good.on('data', resolve));
    good.write(frame(0, 3, 0, 40, 0, 1));
    expect([...(await heard).subarray(7)]).toEqual([3, 2, 0x06, 0x40]);
    good.destroy();
    await server.close();
  });
});
