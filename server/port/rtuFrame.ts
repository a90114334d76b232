import crc16 from 'modbus-serial/utils/crc16.js';
import type { ModbusRequest, TransportAnswer } from './transport.ts';

/** A frame with its check, low byte first (Modbus over Serial Line V1.02, 2.5.1.2: 02 07 is followed by 41 12). */
export function withCheck(bytes: readonly number[]): Buffer {
  const check = crc16(Buffer.from(bytes));
  return Buffer.from([...bytes, check & 0xff, check >> 8]);
}

const two = (value: number): readonly number[] => [value >> 8, value & 0xff];

/** Function 6 writes one register, 16 several in one request, so that a value of two words is never torn. */
export function rtuRequest(unit: number, request: ModbusRequest): Buffer {
  if (request.kind === 'read')
    return withCheck([unit, request.function, ...two(request.address), ...two(request.words)]);
  const { address, words } = request;
  return words.length === 1
    ? withCheck([unit, 6, ...two(address), ...two(words[0] ?? 0)])
    : withCheck([unit, 16, ...two(address), ...two(words.length), 2 * words.length, ...words.flatMap(two)]);
}

/**
 * Reads an answer by the length that it has to have: adapters pass bytes on in pieces, so a pause says nothing.
 * @returns undefined: more bytes belong to it; `strange`: it is not the answer to this request
 */
export function readRtuAnswer(
  unit: number,
  request: ModbusRequest,
  bytes: Buffer,
): { readonly answer: TransportAnswer; readonly length: number } | 'strange' | undefined {
  const [from, code] = bytes;
  const wanted = request.kind === 'read' ? request.function : request.words.length === 1 ? 6 : 16;
  if (from !== undefined && from !== unit) return 'strange';
  if (code === undefined) return undefined;
  if (code !== wanted && code !== (wanted | 0x80)) return 'strange';
  const length = code & 0x80 ? 5 : request.kind === 'read' ? 5 + 2 * request.words : 8;
  if (request.kind === 'read' && code === wanted && bytes.length > 2 && bytes[2] !== 2 * request.words)
    return 'strange';
  if (bytes.length < length) return undefined;
  const frame = bytes.subarray(0, length);
  if (crc16(frame.subarray(0, -2)) !== frame.readUInt16LE(length - 2)) return 'strange';
  if (code & 0x80) return { answer: { kind: 'exception', code: frame[2] ?? 0 }, length };
  if (request.kind === 'read') {
    const words = Array.from({ length: request.words }, (_, k) => frame.readUInt16BE(3 + 2 * k));
    return { answer: { kind: 'answered', words }, length };
  }
  // The echo of what was written: another one belongs to another request.
  const echo = rtuRequest(unit, request).subarray(0, 6);
  return echo.equals(frame.subarray(0, 6)) ? { answer: { kind: 'answered', words: [] }, length } : 'strange';
}
