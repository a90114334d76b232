import { rmSync } from 'node:fs';
import type { Server } from 'node:http';

/** Listens on a Unix socket; one that an earlier process left behind is taken away first. */
export function listenOn(server: Server, socketPath: string): Promise<void> {
  rmSync(socketPath, { force: true });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(socketPath, () => resolve());
  });
}
