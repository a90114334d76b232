// `npm start`: sets up what is missing, builds, starts database, bench and server, and prints the address.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { buildWeb } from './build.mjs';
import { freePort, portIsFree, privateDatabase } from './database.mjs';
import { endLeftovers, runningState, runTypeScript, supervisor } from './processes.mjs';
import { giveUp, root, setUp, varFolder } from './setup.mjs';

/** The bench keeps its port from start to start, because axes are linked to it: 5502, or another when that was taken at first. */
async function benchPortOf(file) {
  const kept = process.env.BENCH_PORT ?? (existsSync(file) ? readFileSync(file, 'utf8') : undefined);
  const chosen = Number(kept ?? ((await portIsFree(5502)) ? 5502 : await freePort()));
  if (!(await portIsFree(chosen)))
    giveUp(
      `port ${chosen}, which the bench uses, is taken`,
      `free it, or choose another with BENCH_PORT and change the link of the demo's axis`,
    );
  writeFileSync(file, String(chosen));
  return chosen;
}

const development = process.argv.includes('--dev');
const began = Date.now();
console.log('Kavrid');
setUp();
const running = runningState();
if (running)
  giveUp(
    `it is already running at http://127.0.0.1:${running.port}`,
    'use that one, or start another copy with PORT=4800 KAVRID_VAR=var2 npm start',
  );
await endLeftovers();
if (!development) buildWeb();

const port = Number(process.env.PORT ?? 4700);
if (!(await portIsFree(port)))
  giveUp(`port ${port} is taken by another program`, 'choose another: PORT=4800 npm start');
const benchPort = await benchPortOf(join(varFolder, 'bench-port'));
const databasePort = await freePort();
const processes = supervisor({ port, benchPort, databasePort });
const end = (code) => processes.end().then(() => process.exit(code));
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));

try {
  const environment = { KAVRID_VAR: varFolder, PORT: String(port), BENCH_PORT: String(benchPort) };
  const devPort = port + 1;
  processes.watch('bench', () => runTypeScript('bench/main.ts', environment, ['ignore', 'ignore', 'inherit']));
  let url = process.env.DATABASE_URL;
  let databaseReady = Promise.resolve();
  if (!url) {
    const database = await privateDatabase(databasePort);
    url = database.url;
    // The server is started meanwhile and waits for it.
    databaseReady = processes.watch('database', database.start, database.ready);
  }
  processes.watch('server', () =>
    runTypeScript(
      'server/main.ts',
      {
        ...environment,
        DATABASE_URL: url,
        ...(development ? { KAVRID_DEV_ORIGIN: `http://127.0.0.1:${devPort}` } : {}),
      },
      ['ignore', 'ignore', 'inherit'],
    ),
  );
  await databaseReady;
  let ready = false;
  for (const stop = Date.now() + 60_000; Date.now() < stop && !ready; await pause(50)) {
    ready = await fetch(`http://127.0.0.1:${port}/api/health`).then(
      (answer) => answer.ok,
      () => false,
    );
  }
  if (!ready) throw new Error('the server did not answer within a minute');
  if (development) {
    processes.watch('web', () =>
      spawn(
        process.execPath,
        [join(root, 'node_modules/vite/bin/vite.js'), '--host', '127.0.0.1', '--port', String(devPort), '--strictPort'],
        {
          cwd: join(root, 'web'),
          env: { ...process.env, KAVRID_SERVER: `http://127.0.0.1:${port}` },
          stdio: 'inherit',
        },
      ),
    );
  }
  console.log(
    `\n  Open http://127.0.0.1:${development ? devPort : port}   (ready after ${((Date.now() - began) / 1000).toFixed(1)} s; Ctrl+C ends it)`,
  );
  console.log(`  Bench: Modbus TCP 127.0.0.1:${benchPort}, servo drive at unit 1, spindle drive at unit 3`);
} catch (error) {
  console.error(`\nKavrid cannot go on: ${error.message}`);
  await end(1);
}
