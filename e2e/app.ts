import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
/** Two files of tests run side by side, each on an app of its own. */
const lane = Number(process.env.TEST_PARALLEL_INDEX ?? 0);
export const port = 4790 + 2 * lane;
const benchPort = 5590 + lane;
export const base = `http://127.0.0.1:${port}`;
export const folder = join(process.env.KAVRID_VAR ?? join(root, 'var'), `e2e-${lane}`);
let child: ChildProcess | undefined;

/** Starts the whole app as a user does. @param fresh begins with an empty var folder */
export async function startApp(fresh: boolean): Promise<void> {
  if (fresh) {
    rmSync(folder, { recursive: true, force: true });
    // The bench's watchdog is set slow, because the computer may be shared and stall.
    mkdirSync(join(folder, 'bench'), { recursive: true });
    writeFileSync(
      join(folder, 'bench', 'servo.json'),
      JSON.stringify({ values: { watchdogTime: 10_000 }, storeCount: 0 }),
    );
  }
  const started = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env: {
      ...process.env,
      PORT: String(port),
      KAVRID_VAR: folder,
      BENCH_PORT: String(benchPort),
      KAVRID_TEST_PATIENCE: '30',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  child = started;
  await new Promise<void>((resolve, reject) => {
    let text = '';
    started.stdout.on('data', (data) => {
      text += String(data);
      if (text.includes('Open http')) resolve();
    });
    started.on('exit', (code) => reject(new Error(`npm start ended with ${code}: ${text}`)));
  });
}

/** Ends it as Ctrl+C does, or without a chance to clean up. */
export async function stopApp(signal: 'SIGINT' | 'SIGKILL' = 'SIGINT'): Promise<void> {
  const ending = child;
  if (!ending || ending.exitCode !== null) return;
  const gone = new Promise((resolve) => ending.once('exit', resolve));
  ending.kill(signal);
  await gone;
}

/** Kills one of the app's processes. */
export function killPart(name: 'bench' | 'database' | 'data' | 'server'): void {
  const { children } = JSON.parse(readFileSync(join(folder, 'running.json'), 'utf8')) as {
    children: Record<string, { readonly pid: number }>;
  };
  const pid = children[name]?.pid;
  if (pid === undefined) throw new Error(`${name} does not run`);
  process.kill(pid, 'SIGKILL');
}
