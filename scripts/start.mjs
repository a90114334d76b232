// `npm start`: sets up what is missing, builds, starts bench, database, data process and server, and prints the address.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { buildWeb } from './build.mjs';
import { freePort, portIsFree, portProblem, privateDatabase } from './database.mjs';
import { endLeftovers, runningState, runTypeScript, startAlone, supervisor } from './processes.mjs';
import { findProgram, giveUp, main, portOf, readJson, root, setUp, varFolder, writableFolder } from './setup.mjs';

/** The bench keeps its port from start to start, because axes are linked to it: 5502, or another when that was taken at first. */
async function benchPortOf(file) {
  const kept = process.env.BENCH_PORT ? portOf('BENCH_PORT', 5502) : readJson(file);
  const chosen = Number.isInteger(kept) ? kept : (await portIsFree(5502)) ? 5502 : await freePort();
  const problem = await portProblem(chosen);
  if (problem)
    giveUp(
      `port ${chosen}, which the bench uses, ${problem}`,
      'free it, or choose another with BENCH_PORT and change the links of the demo’s axes',
    );
  writeFileSync(file, String(chosen));
  return chosen;
}

/** Unix sockets have short names: a long folder’s lie in the one for passing things. */
function socketFolder() {
  const own = join(varFolder, 'sockets');
  const short = join(tmpdir(), `kavrid-${createHash('sha256').update(varFolder).digest('hex').slice(0, 12)}`);
  const folder = own.length < 80 ? own : short;
  writableFolder(folder, { mode: 0o700 });
  return folder;
}

const development = process.argv.includes('--dev');
const began = Date.now();
let processes;
let letOthersStart = () => undefined;
const end = async () => {
  await processes?.end();
  letOthersStart();
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end().then(() => process.exit(0)));

console.log('Kavrid');
await main(async () => {
  const port = portOf('PORT', 4700);
  setUp();
  const running = runningState();
  if (running)
    giveUp(
      `it is already running at http://127.0.0.1:${running.port}`,
      'use that one, or start another copy with PORT=4800 KAVRID_VAR=var2 npm start',
    );
  letOthersStart = startAlone();
  await endLeftovers();
  if (!development) buildWeb();

  const problem = await portProblem(port);
  if (problem) giveUp(`port ${port} ${problem}`, 'choose another: PORT=4800 npm start');
  const benchPort = await benchPortOf(join(varFolder, 'bench-port'));
  const databasePort = await freePort();
  const database = process.env.DATABASE_URL ? undefined : await privateDatabase(databasePort);
  const sockets = socketFolder();
  const benchSerial = join(varFolder, 'bench', 'serial');
  processes = supervisor({ port, benchPort, databasePort });
  const devPort = port + 1;
  const environment = {
    KAVRID_VAR: varFolder,
    PORT: String(port),
    BENCH_PORT: String(benchPort),
    BENCH_SERIAL: benchSerial,
    DATABASE_URL: database?.url ?? process.env.DATABASE_URL,
    PUBLIC_SOCKET: join(sockets, 'data'),
    INTERNAL_SOCKET: join(sockets, 'internal'),
    ...(development ? { KAVRID_DEV_ORIGIN: `http://127.0.0.1:${devPort}` } : {}),
  };
  const quiet = ['ignore', 'ignore', 'inherit'];
  processes.watch('bench', () => runTypeScript('bench/main.ts', environment, quiet));
  // The data process is started meanwhile and waits for the database; the server waits for neither.
  const databaseReady = database && processes.watch('database', database.start, database.ready);
  processes.watch('data', () => runTypeScript('server/dataMain.ts', environment, quiet));
  processes.watch('server', () => runTypeScript('server/main.ts', environment, quiet));
  letOthersStart();
  await databaseReady;
  let ready = false;
  for (const stop = Date.now() + 120_000; Date.now() < stop && !ready; await pause(50)) {
    ready = await fetch(`http://127.0.0.1:${port}/api/health`).then(
      (answer) => answer.ok,
      () => false,
    );
  }
  if (!ready) throw new Error('the server did not answer within two minutes');
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
  console.log(
    `  Bench: Modbus TCP 127.0.0.1:${benchPort}, RTU ${findProgram('socat') ? benchSerial : 'not served: socat is missing'}`,
  );
}, end);
