import type { RegisterCells, RegisterError } from '../devices/registerCells.ts';

/** Modbus exception codes (Application Protocol V1.1b3, 7); 11: no device of that unit answers. */
const exceptionCode: Readonly<Record<RegisterError | 'illegal function' | 'no such device', number>> = {
  'illegal function': 1,
  'illegal address': 2,
  'illegal value': 3,
  busy: 6,
  'no such device': 11,
};

type Cells = Pick<RegisterCells, 'read' | 'write'>;

/** Most registers that one request reads and writes (6.3, 6.12). */
const mostRead = 125;
const mostWritten = 123;

/**
 * The answer of a bench to a request: function code and data in, function code and data out. What it does not serve is
 * exception 1; a request whose length or quantity cannot be is exception 3.
 */
export function answerPdu(devices: ReadonlyMap<number, Cells>, unit: number, pdu: Uint8Array): Uint8Array {
  const [code = 0] = pdu;
  const device = devices.get(unit);
  const result = device ? answer(device, code, pdu) : 'no such device';
  return typeof result === 'string' ? Uint8Array.of(code | 0x80, exceptionCode[result]) : result;
}

function answer(device: Cells, code: number, pdu: Uint8Array): Uint8Array | keyof typeof exceptionCode {
  const data = new DataView(pdu.buffer, pdu.byteOffset, pdu.byteLength);
  switch (code) {
    case 3:
    case 4: {
      if (pdu.length !== 5) return 'illegal value';
      const [address, count] = [data.getUint16(1), data.getUint16(3)];
      if (count < 1 || count > mostRead) return 'illegal value';
      if (address + count > 0x10000) return 'illegal address';
      const words = device.read(address, count);
      return typeof words === 'string' ? words : Uint8Array.of(code, 2 * count, ...bytesOf(words));
    }
    case 6: {
      if (pdu.length !== 5) return 'illegal value';
      return device.write(data.getUint16(1), [data.getUint16(3)]) ?? pdu.slice();
    }
    case 16: {
      if (pdu.length < 6) return 'illegal value';
      const [address, count, bytes] = [data.getUint16(1), data.getUint16(3), data.getUint8(5)];
      if (count < 1 || count > mostWritten || bytes !== 2 * count || pdu.length !== 6 + bytes) return 'illegal value';
      if (address + count > 0x10000) return 'illegal address';
      const words = Array.from({ length: count }, (_, k) => data.getUint16(6 + 2 * k));
      return device.write(address, words) ?? pdu.slice(0, 5);
    }
    default:
      return 'illegal function';
  }
}

const bytesOf = (words: readonly number[]): readonly number[] => words.flatMap((word) => [word >> 8, word & 0xff]);
