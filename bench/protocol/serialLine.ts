import { spawn, type ChildProcess } from 'node:child_process';
import { lstatSync, rmSync } from 'node:fs';
import { rtuServer, type RtuOptions } from './rtuServer.ts';

/** ms until a pseudo-terminal pair that has ended is replaced */
const again = 500;

/**
 * A serial port for clients at a path: one end of a pseudo-terminal whose other end is the bench, made by `socat`.
 * @returns what ends it
 */
export function serveSerial(
  path: string,
  options: Omit<RtuOptions, 'send'>,
  missing: () => void = () => undefined,
): () => void {
  let child: ChildProcess | undefined;
  let isEnded = false;
  const begin = () => {
    if (isEnded) return;
    removeLink(path);
    const made = spawn('socat', [`pty,rawer,link=${path},mode=600`, 'stdio'], { stdio: ['pipe', 'pipe', 'ignore'] });
    child = made;
    const take = rtuServer({ ...options, send: (bytes) => void (made.stdin.writable && made.stdin.write(bytes)) });
    made.stdout.on('data', (bytes: Buffer) => take(bytes));
    made.stdin.on('error', () => undefined);
    made.on('error', () => {
      isEnded = true;
      missing();
    });
    made.on('exit', () => setTimeout(begin, again).unref());
  };
  begin();
  return () => {
    isEnded = true;
    child?.kill();
  };
}

/** Only ever a link that an earlier bench has left there. */
function removeLink(path: string): void {
  if (lstatSync(path, { throwIfNoEntry: false })?.isSymbolicLink()) rmSync(path);
}
