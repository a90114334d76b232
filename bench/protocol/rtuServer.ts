import { answerPdu } from './answerPdu.ts';
import { crc16 } from './crc16.ts';
import { troubledReply, type ReplyTrouble } from './replyTrouble.ts';
import type { RegisterCells } from '../devices/registerCells.ts';

export interface RtuOptions {
  readonly devices: ReadonlyMap<number, Pick<RegisterCells, 'read' | 'write'>>;
  readonly replies?: ReadonlyMap<number, ReplyTrouble>;
  /** Bits of a character over the bit rate, s: a pseudo-terminal knows neither, so the time that bytes take is kept here. */
  readonly characterTime: number;
  /** ms for which an adapter collects bytes before it passes them on; 0: not at all */
  readonly chunkTime?: number;
  readonly send: (bytes: Uint8Array) => void;
  readonly later?: (action: () => void, ms: number) => void;
}

/** ms of silence after which what came before is no part of a request any more */
const forgetTime = 50;
/** ms that a device takes to answer */
const answerDelay = 2;

/**
 * Devices on a serial line, by their unit (Modbus over Serial Line V1.02): what is not for one of them, or broken, is not
 * answered; a broadcast is carried out without an answer.
 * @returns takes bytes as they come
 */
export function rtuServer(options: RtuOptions): (bytes: Uint8Array) => void {
  const { devices, replies = new Map<number, ReplyTrouble>(), characterTime, chunkTime = 16, send } = options;
  const later = options.later ?? ((action, ms) => void setTimeout(action, ms));
  let received: number[] = [];
  let heardAt = -Infinity;
  let replied = 0;

  /** Bytes leave as fast as the line carries them, in the pieces that the adapter makes of them. */
  const transmit = (frame: Uint8Array, delay: number) => {
    const each = chunkTime > 0 ? Math.max(1, Math.floor(chunkTime / (1000 * characterTime))) : frame.length;
    for (let at = 0; at < frame.length; at += each) {
      const piece = frame.slice(at, at + each);
      later(() => send(piece), delay + 1000 * characterTime * (at + piece.length));
    }
  };

  const answer = (frame: readonly number[]) => {
    const [unit = 0, ...rest] = frame.slice(0, -2);
    if (unit === 0) {
      for (const each of devices.keys()) answerPdu(devices, each, Uint8Array.from(rest));
      return;
    }
    if (!devices.has(unit)) return;
    later(
      () => {
        const pdu = answerPdu(devices, unit, Uint8Array.from(rest));
        const body = [unit, ...pdu];
        const check = crc16(body);
        const whole = Uint8Array.from([...body, check & 0xff, check >> 8]);
        const trouble = replies.get(unit);
        if (!trouble) return transmit(whole, answerDelay);
        const { frames, delay } = troubledReply(trouble, whole, ++replied);
        frames.forEach((each, k) => transmit(each, answerDelay + delay + k * 1000 * characterTime * whole.length));
      },
      1000 * characterTime * frame.length,
    );
  };

  return (bytes) => {
    const now = performance.now();
    if (now - heardAt > forgetTime) received = [];
    heardAt = now;
    received.push(...bytes);
    for (let length = lengthOf(received); length !== undefined; length = lengthOf(received)) {
      if (length === 'broken') {
        received = [];
        return;
      }
      if (received.length < length) return;
      const frame = received.splice(0, length);
      const [low = 0, high = 0] = frame.slice(-2);
      if (crc16(frame.slice(0, -2)) !== low + 256 * high) {
        received = [];
        return;
      }
      answer(frame);
    }
  };
}

/** Characters of the request that begins; undefined: too little is known yet. */
function lengthOf([, code, , , , , count]: readonly number[]): number | 'broken' | undefined {
  switch (code) {
    case undefined:
      return undefined;
    case 3:
    case 4:
    case 6:
      return 8;
    case 16:
      return count === undefined ? undefined : 9 + count;
    default:
      return 'broken';
  }
}
