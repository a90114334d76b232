// `npm run bench`: the simulated devices alone, for any Modbus client. BENCH_PORT chooses the port (5502).
import { runTypeScript } from './processes.mjs';
import { main, portOf, setUp, varFolder } from './setup.mjs';

await main(() => {
  const port = portOf('BENCH_PORT', 5502);
  setUp();
  const child = runTypeScript('bench/main.ts', { KAVRID_VAR: varFolder, BENCH_PORT: String(port) });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
});
