import { connect, createServer, type Socket } from 'node:net';

/** A wire to a device that takes some time each way, as a drive that answers late. */
export function slowWire(
  target: number,
  delay: number,
): Promise<{ readonly port: number; readonly close: () => void }> {
  const sockets = new Set<Socket>();
  const later = (to: Socket) => (data: Buffer) => setTimeout(() => to.write(data), delay / 2);
  const server = createServer((near) => {
    const far = connect({ port: target, host: '127.0.0.1', noDelay: true });
    near.setNoDelay(true);
    for (const [from, to] of [
      [near, far],
      [far, near],
    ] as const) {
      sockets.add(from);
      from.on('data', later(to));
      from.on('error', () => to.destroy());
      from.on('close', () => to.destroy());
    }
  });
  return new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      resolve({
        port: typeof address === 'object' && address ? address.port : 0,
        close: () => {
          for (const socket of sockets) socket.destroy();
          server.close();
        },
      });
    }),
  );
}
