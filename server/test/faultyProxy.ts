import { connect, createServer, type Socket } from 'node:net';

/** What a proxy can do to a piece that passes. */
export const proxyFaults = ['dropped', 'late', 'split', 'cut off', 'doubled', 'corrupted'] as const;
export type ProxyFault = (typeof proxyFaults)[number];

/** What may happen to a request: TCP itself neither doubles nor alters what is sent. */
export const requestFaults: readonly ProxyFault[] = ['dropped', 'late', 'split', 'cut off'];

/** Bytes of a frame that tell what it is: its header, its unit and its function. */
const markedBytes = 8;

/**
 * A TCP proxy on loopback that spoils what passes through it. What passes one way stays in its order, as TCP keeps it.
 * @param faultOf asked for each piece that passes, a frame as a rule
 * @param lateness ms by which a late piece is held back
 */
export async function faultyProxy(
  target: number,
  faultOf: (way: 'request' | 'answer') => ProxyFault | undefined,
  random: () => number,
  lateness: () => number,
): Promise<{ readonly port: number; readonly close: () => void }> {
  const sockets = new Set<Socket>();
  const server = createServer((client) => {
    const device = connect({ port: target, host: '127.0.0.1', noDelay: true });
    client.setNoDelay(true);
    const end = () => {
      client.destroy();
      device.destroy();
    };
    for (const socket of [client, device]) {
      sockets.add(socket);
      socket.on('error', end);
      socket.on('close', end);
    }
    const passes = (from: Socket, to: Socket, way: 'request' | 'answer') => {
      let turn: Promise<unknown> = Promise.resolve();
      const after = (pause: number, pieces: readonly Uint8Array[]) =>
        (turn = turn
          .then(() => new Promise((passed) => setTimeout(passed, pause)))
          .then(() => to.writable && pieces.forEach((piece) => to.write(piece))));
      from.on('data', (data: Buffer) => {
        switch (faultOf(way)) {
          case undefined:
            return void after(0, [data]);
          case 'dropped':
            return;
          case 'late':
            return void after(lateness(), [data]);
          case 'split': {
            const at = Math.floor(random() * data.length);
            void after(0, [data.subarray(0, at)]);
            return void after(20, [data.subarray(at)]);
          }
          case 'cut off':
            return end();
          case 'doubled':
            return void after(0, [data, data]);
          case 'corrupted': {
            const at = Math.floor(random() * Math.min(data.length, markedBytes));
            return void after(0, [data.map((byte, k) => (k === at ? byte ^ (1 + Math.floor(random() * 255)) : byte))]);
          }
        }
      });
    };
    passes(client, device, 'request');
    passes(device, client, 'answer');
  });
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  const address = server.address();
  return {
    port: typeof address === 'object' && address ? address.port : 0,
    close: () => {
      server.close();
      for (const socket of sockets) socket.destroy();
    },
  };
}
