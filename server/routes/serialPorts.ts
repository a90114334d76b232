import { existsSync, lstatSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where Linux lists its terminals; those of real hardware have a device behind them. */
const terminals = '/sys/class/tty';

/**
 * The serial ports of this computer, by path: real ones, and the line of the bench where there is one.
 * @param benchLine where the bench puts its serial line
 */
export function serialPorts(benchLine?: string): readonly string[] {
  const names = existsSync(terminals) ? readdirSync(terminals) : [];
  const real = names.filter((name) => isReal(name)).map((name) => `/dev/${name}`);
  const bench = benchLine !== undefined && lstatSync(benchLine, { throwIfNoEntry: false })?.isSymbolicLink();
  return [...real.sort((a, b) => a.localeCompare(b, 'en', { numeric: true })), ...(bench ? [benchLine] : [])];
}

/** Real hardware has a driver behind it; of the ports of the old kind, those of type 0 are places without a port. */
function isReal(name: string): boolean {
  const type = join(terminals, name, 'type');
  return (
    existsSync(join(terminals, name, 'device', 'driver')) &&
    !(existsSync(type) && readFileSync(type, 'utf8').trim() === '0')
  );
}
