import { EventEmitter } from 'node:events';
import { rtuServer, type RegisterCells } from '@kavrid/bench';
import { connectSerial, type BytePort } from '../port/serialTransport.ts';
import type { Connect } from '../port/lines.ts';

/** What can happen to a piece of a conversation on a serial line. */
export const byteFaults = ['lost', 'bit turned over', 'cut short', 'doubled', 'late'] as const;
export type ByteFault = (typeof byteFaults)[number];

/** ms by which something is late: beyond every time-out of these lines */
const lateness = 400;

/**
 * A serial line in memory between the link and the devices of the bench: what the two say to each other is lost, broken, cut,
 * doubled or late, as told.
 * @param faultOf asked for each request and each answer
 */
export function faultySerialLine(
  devices: ReadonlyMap<number, Pick<RegisterCells, 'read' | 'write'>>,
  faultOf: (what: 'request' | 'answer', bytes: Uint8Array) => ByteFault | undefined,
  random: () => number,
): Connect {
  return (address, signal) => {
    if (address.kind !== 'serial') return Promise.reject(new Error('it is no serial line'));
    const open = () => {
      const port = new EventEmitter();
      let isOpen = true;
      const toLink = (bytes: Uint8Array) => isOpen && port.emit('data', Buffer.from(bytes));
      const take = rtuServer({
        devices,
        characterTime: 11 / address.baud,
        chunkTime: 0,
        send: (bytes) => pass(bytes, faultOf('answer', bytes), toLink, random),
      });
      const made = Object.assign(port, {
        get isOpen() {
          return isOpen;
        },
        write: (bytes: Buffer) => pass(bytes, faultOf('request', bytes), take, random),
        flush: (done: () => void) => done(),
        close: (done: () => void) => {
          isOpen = false;
          done();
        },
      });
      return Promise.resolve(made as unknown as BytePort);
    };
    return connectSerial(address, signal, { open });
  };
}

function pass(
  bytes: Uint8Array,
  fault: ByteFault | undefined,
  on: (bytes: Uint8Array) => unknown,
  random: () => number,
): void {
  const at = Math.floor(random() * bytes.length);
  switch (fault) {
    case undefined:
      return void on(bytes);
    case 'lost':
      return;
    case 'bit turned over':
      return void on(bytes.map((byte, k) => (k === at ? byte ^ (1 << Math.floor(random() * 8)) : byte)));
    case 'cut short':
      return void on(bytes.slice(0, at));
    case 'doubled':
      on(bytes);
      return void setTimeout(() => on(bytes), 1);
    case 'late':
      return void setTimeout(() => on(bytes), lateness);
  }
}
