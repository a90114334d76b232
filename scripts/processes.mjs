// The processes of one running Kavrid: started, watched, restarted when they die, stopped together.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { root, varFolder } from './setup.mjs';

const stateFile = join(varFolder, 'running.json');

const alive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** Is that process really one of ours, and not a stranger who got the same number? */
const ours = (pid, mark) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(mark);
  } catch {
    return false;
  }
};

/** @returns the state of a Kavrid that runs on this var folder, or undefined. */
export function runningState() {
  if (!existsSync(stateFile)) return undefined;
  const state = JSON.parse(readFileSync(stateFile, 'utf8'));
  return alive(state.supervisor) && ours(state.supervisor, 'scripts/') ? state : undefined;
}

/** Ends what a killed Kavrid left behind on this var folder. */
export async function endLeftovers() {
  if (!existsSync(stateFile) || runningState()) return;
  const { children = {} } = JSON.parse(readFileSync(stateFile, 'utf8'));
  const marks = { database: 'mariadbd', bench: 'bench/main.ts', server: 'server/main.ts' };
  for (const [name, pid] of Object.entries(children)) {
    if (!alive(pid) || !ours(pid, marks[name] ?? name)) continue;
    process.kill(pid, 'SIGTERM');
    for (let k = 0; k < 100 && alive(pid); k++) await pause(100);
    if (alive(pid)) process.kill(pid, 'SIGKILL');
  }
  rmSync(stateFile, { force: true });
}

/** Runs a TypeScript program of the project. */
export const runTypeScript = (file, env, stdio = 'inherit', words = []) =>
  spawn(process.execPath, ['--import', 'tsx', file, ...words], {
    cwd: root,
    env: { ...process.env, ...env },
    stdio,
    detached: true,
  });

/** Keeps processes running and ends them in the reverse order of their start. */
export function supervisor(facts) {
  const children = new Map();
  let ending = false;
  const save = () =>
    writeFileSync(
      stateFile,
      JSON.stringify({
        supervisor: process.pid,
        ...facts,
        children: Object.fromEntries([...children].map(([name, c]) => [name, c.child.pid])),
      }),
    );
  const watch = (name, start, ready) => {
    const entry = { child: start(), failures: 0 };
    children.set(name, entry);
    save();
    const onExit = async () => {
      if (ending) return;
      entry.failures++;
      console.error(`  ${name} has ended; starting it again …`);
      await pause(Math.min(10_000, 500 * entry.failures));
      if (ending) return;
      entry.child = start();
      entry.child.on('exit', onExit);
      save();
    };
    entry.child.on('exit', onExit);
    return ready?.(entry.child);
  };
  const end = async () => {
    if (ending) return;
    ending = true;
    for (const { child } of [...children.values()].reverse()) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), 15_000);
      await gone;
      clearTimeout(timer);
    }
    rmSync(stateFile, { force: true });
  };
  return { watch, end };
}
