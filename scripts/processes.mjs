// The processes of one running Kavrid: started, watched, restarted when they die, stopped together.
import { spawn } from 'node:child_process';
import { closeSync, openSync, readFileSync, rmSync, writeFileSync, writeSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { giveUp, readJson, root, varFolder } from './setup.mjs';

const stateFile = join(varFolder, 'running.json');
const lockFile = join(varFolder, 'starting.lock');

/** ms for which a process has to run until earlier failures of it are forgotten; the longest wait before a new start */
const steady = 60_000;
const longestWait = 10_000;

/** A process by its number and the moment it began, so that a stranger who got the same number later is not taken for it. */
export function processMark(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // After the name, which may hold anything, in brackets: field 22 is the start, in ticks since the computer began.
    return { pid, begun: stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] };
  } catch {
    return undefined;
  }
}

const isAlive = (mark) => {
  const now = mark && processMark(mark.pid);
  return now !== undefined && now.begun === mark.begun;
};

/** @returns the state of a Kavrid that runs on this var folder, or undefined. */
export function runningState() {
  const state = readJson(stateFile);
  return state && isAlive(state.supervisor) ? state : undefined;
}

/** Ends what a killed Kavrid left behind on this var folder; nothing that only has the number of one of its processes. */
export async function endLeftovers() {
  const state = readJson(stateFile);
  if (state && isAlive(state.supervisor)) return;
  for (const mark of Object.values(state?.children ?? {})) {
    if (!isAlive(mark)) continue;
    process.kill(mark.pid, 'SIGTERM');
    for (let k = 0; k < 100 && isAlive(mark); k++) await pause(100);
    if (isAlive(mark)) process.kill(mark.pid, 'SIGKILL');
  }
  rmSync(stateFile, { force: true });
}

/** Of two starts on one folder, one goes on. @returns what lets the next one start */
export function startAlone() {
  for (let attempt = 0; attempt < 2; attempt++) {
    try {
      const file = openSync(lockFile, 'wx');
      writeSync(file, JSON.stringify(processMark(process.pid)));
      closeSync(file);
      return () => rmSync(lockFile, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const other = readJson(lockFile);
      if (isAlive(other))
        giveUp(
          `another start of Kavrid on ${varFolder} is under way (process ${other.pid})`,
          'wait for it, and use that one',
        );
      rmSync(lockFile, { force: true });
    }
  }
  return giveUp(`another start of Kavrid on ${varFolder} is under way`, 'wait for it, and use that one');
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
  const save = () => {
    const marks = [...children].map(([name, { child }]) => [name, processMark(child.pid)]);
    const state = { supervisor: processMark(process.pid), ...facts, children: Object.fromEntries(marks) };
    writeFileSync(`${stateFile}.new`, JSON.stringify(state));
    renameSync(`${stateFile}.new`, stateFile);
  };
  const watch = (name, start, ready) => {
    const entry = { child: start(), failures: 0, since: Date.now() };
    children.set(name, entry);
    save();
    const onExit = async () => {
      if (ending) return;
      entry.failures = Date.now() - entry.since > steady ? 1 : entry.failures + 1;
      console.error(`  ${name} has ended; starting it again …`);
      await pause(Math.min(longestWait, 500 * entry.failures));
      if (ending) return;
      entry.child = start();
      entry.since = Date.now();
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
