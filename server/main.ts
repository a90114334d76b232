import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setTimeout as pause } from 'node:timers/promises';
import { createServer } from './createServer.ts';
import { connectDatabase } from './database/connectDatabase.ts';
import { loadDemo } from './database/loadDemo.ts';
import { Store } from './database/store.ts';

const path = (relative: string) => fileURLToPath(new URL(relative, import.meta.url));
const { DATABASE_URL, PORT, BENCH_PORT, KAVRID_VAR, KAVRID_DEV_ORIGIN } = process.env;
if (!DATABASE_URL) {
  console.error('DATABASE_URL is not set. Start Kavrid with “npm start”, which brings a database of its own.');
  process.exit(1);
}

async function connectPatiently(url: string) {
  for (let attempt = 1; ; attempt++) {
    try {
      return await connectDatabase(url);
    } catch (error) {
      if (attempt >= 300) throw error;
      await pause(100);
    }
  }
}

const store = new Store(await connectPatiently(DATABASE_URL));
await loadDemo(store, {
  machine: path('../demo/tile-glazing-cell.json'),
  library: path('../demo/library.json'),
  registerMap: path('../bench/register-map.csv'),
  spindleMap: path('../bench/spindle-register-map.csv'),
  benchPort: Number(BENCH_PORT ?? 5502),
});
const { http, live } = createServer({
  store,
  importFolder: join(KAVRID_VAR ?? tmpdir(), 'imports'),
  ...(KAVRID_DEV_ORIGIN ? { moreOrigins: [KAVRID_DEV_ORIGIN] } : { webFolder: path('../web/dist') }),
});
http.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE' ? `Port ${PORT} is taken. Choose another: PORT=4800 npm start` : error.message,
  );
  process.exit(1);
});
http.listen(Number(PORT ?? 4700), '127.0.0.1', () => console.log('server listening'));

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) return;
    closing = true;
    void live
      .close()
      .then(() => store.close())
      .finally(() => process.exit(0));
    http.closeAllConnections();
  });
}
