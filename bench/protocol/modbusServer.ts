import { createServer, type Socket } from 'node:net';
import { answerPdu } from './answerPdu.ts';
import { troubledReply, type ReplyTrouble } from './replyTrouble.ts';
import type { BenchDevice, RegisterCells } from '../devices/registerCells.ts';

export interface RunningServer {
  readonly port: number;
  readonly close: () => Promise<void>;
}

/** A device as its client sees it. */
export type ServedDevice = Pick<RegisterCells, 'read' | 'write'> & { readonly device: Pick<BenchDevice, 'advance'> };

export interface ServerOptions {
  /** What is wrong with the replies of a unit, if anything. */
  readonly replies?: ReadonlyMap<number, ReplyTrouble>;
  /** Seconds that pass for the devices in one of the clock's. */
  readonly timeScale?: number;
}

/** Bytes of the header before the unit, and the longest unit with its PDU (Messaging on TCP/IP V1.0b, 3.1.3). */
const headerLength = 6;
const longest = 254;

/**
 * Serves devices over Modbus TCP on loopback, by their unit, and lets their time pass with the clock, in the order of the map.
 */
export function serveModbus(
  devices: ReadonlyMap<number, ServedDevice>,
  port: number,
  { replies = new Map(), timeScale = 1 }: ServerOptions = {},
): Promise<RunningServer> {
  const sockets = new Set<Socket>();
  let replied = 0;
  const server = createServer((socket) => {
    sockets.add(socket);
    socket.setNoDelay(true);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => sockets.delete(socket));
    const frames = mbapFrames((header, unit, pdu) => {
      const answer = answerPdu(devices, unit, pdu);
      const frame = Buffer.alloc(headerLength + 1 + answer.length);
      header.copy(frame);
      frame.writeUInt16BE(1 + answer.length, 4);
      frame.writeUInt8(unit, headerLength);
      frame.set(answer, headerLength + 1);
      const trouble = replies.get(unit);
      if (!trouble) return void socket.write(frame);
      const { frames: sent, delay } = troubledReply(trouble, frame, ++replied);
      const send = () => sent.forEach((each) => socket.writable && socket.write(each));
      if (delay > 0) setTimeout(send, delay);
      else send();
    });
    socket.on('data', (data: Buffer) => void (frames(data) || socket.destroy()));
  });
  let last = performance.now();
  const clock = setInterval(() => {
    const now = performance.now();
    // A stalled computer does not catch up: the devices' time, their watchdogs' too, rather runs slow than jumps.
    const passed = Math.min(0.016, (now - last) / 1000);
    for (const { device } of devices.values()) device.advance(timeScale * passed);
    last = now;
  }, 4);
  return new Promise((resolve, reject) => {
    server.once('error', (error) => {
      clearInterval(clock);
      reject(error);
    });
    server.listen(port, '127.0.0.1', () => {
      const address = server.address();
      resolve({
        port: typeof address === 'object' && address ? address.port : port,
        close: () =>
          new Promise((done) => {
            clearInterval(clock);
            server.close(() => done());
            for (const socket of sockets) socket.destroy();
          }),
      });
    });
  });
}

/**
 * Cuts a stream into frames. A frame of another protocol is passed over; a length that cannot be ends the connection, since
 * nobody can tell where the next frame begins.
 * @returns what takes pieces of the stream, and says false when it cannot go on
 */
export function mbapFrames(whole: (header: Buffer, unit: number, pdu: Buffer) => void): (piece: Buffer) => boolean {
  let kept: Buffer = Buffer.alloc(0);
  return (piece) => {
    kept = Buffer.concat([kept, piece]);
    while (kept.length >= headerLength) {
      const length = kept.readUInt16BE(4);
      if (length < 2 || length > longest) return false;
      if (kept.length < headerLength + length) return true;
      const header = kept.subarray(0, headerLength);
      const body = kept.subarray(headerLength, headerLength + length);
      kept = kept.subarray(headerLength + length);
      if (header.readUInt16BE(2) === 0) whole(header, body.readUInt8(0), body.subarray(1));
    }
    return true;
  };
}
