import { setPriority } from 'node:os';
import { patientTiming, sessionTiming } from '@kavrid/core/procedure';
import { benchMaps } from './port/benchMaps.ts';
import { createPortServer } from './port/portServer.ts';
import { remoteData } from './port/remoteData.ts';

const { PORT, PUBLIC_SOCKET, INTERNAL_SOCKET, KAVRID_DEV_ORIGIN, KAVRID_TEST_PATIENCE } = process.env;
if (!PUBLIC_SOCKET || !INTERNAL_SOCKET) {
  console.error('This process is started by “npm start”, which starts the data process beside it.');
  process.exit(1);
}
// A stall of this process ends motion: where the system allows it, it goes before those that only compute.
try {
  setPriority(-10);
} catch {
  // Only an administrator may ask for that; without it a busy computer stops an axis sooner.
}
const port = Number(PORT ?? 4700);
const { http, close } = createPortServer({
  data: remoteData(INTERNAL_SOCKET),
  benchMaps: benchMaps(),
  publicSocket: PUBLIC_SOCKET,
  internalSocket: INTERNAL_SOCKET,
  ...(KAVRID_DEV_ORIGIN ? { moreOrigins: [KAVRID_DEV_ORIGIN] } : {}),
  // For tests on a busy computer only: what a stall of the computer could trip waits longer.
  timing: KAVRID_TEST_PATIENCE ? patientTiming(Number(KAVRID_TEST_PATIENCE)) : sessionTiming,
});
http.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE' ? `Port ${port} is taken. Choose another: PORT=4800 npm start` : error.message,
  );
  process.exit(1);
});
http.listen(port, '127.0.0.1', () => console.log('server listening'));

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) return;
    closing = true;
    void close().finally(() => process.exit(0));
  });
}
