import { readdir } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setTimeout as pause } from 'node:timers/promises';
import { createServer } from './createServer.ts';
import { checkTableOrder } from './backup/tableOrder.ts';
import { connectDatabase } from './database/connectDatabase.ts';
import { loadDemo } from './database/loadDemo.ts';
import { Store } from './database/store.ts';
import { createInternalServer } from './internal/internalServer.ts';
import { storeData } from './internal/storeData.ts';
import { listenOn } from './listenOn.ts';

const path = (relative: string) => fileURLToPath(new URL(relative, import.meta.url));
const { DATABASE_URL, PUBLIC_SOCKET, INTERNAL_SOCKET, BENCH_PORT, BENCH_SERIAL, KAVRID_VAR, KAVRID_DEV_ORIGIN } =
  process.env;
if (!DATABASE_URL || !PUBLIC_SOCKET || !INTERNAL_SOCKET) {
  console.error('This process is started by “npm start”, which brings a database and the sockets that it needs.');
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

/** Every device in the folder publishes its map under its name. */
const mapsIn = async (folder: string): Promise<Readonly<Record<string, string>>> => {
  const entries = await readdir(folder, { withFileTypes: true });
  const names = entries.filter((entry) => entry.isDirectory()).map(({ name }) => name);
  return Object.fromEntries(names.map((name) => [name, join(folder, name, `${name}.csv`)]));
};

const store = new Store(await connectPatiently(DATABASE_URL));
checkTableOrder(store.source);
await loadDemo(store, {
  machine: path('../demo/tile-glazing-cell.json'),
  library: path('../demo/library.json'),
  registerMaps: await mapsIn(path('../bench/devices')),
  benchPort: Number(BENCH_PORT ?? 5502),
});
const { http, events } = createServer({
  store,
  benchSerial: BENCH_SERIAL,
  importFolder: join(KAVRID_VAR ?? tmpdir(), 'imports'),
  ...(KAVRID_DEV_ORIGIN ? {} : { webFolder: path('../web/dist') }),
});
const internal = createInternalServer(storeData(store), events);
await listenOn(internal, INTERNAL_SOCKET);
await listenOn(http, PUBLIC_SOCKET);
console.log('data listening');

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) return;
    closing = true;
    http.closeAllConnections();
    internal.closeAllConnections();
    void store.close().finally(() => process.exit(0));
  });
}
