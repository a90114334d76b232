import { randomInt } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { DeviceRegisters } from './deviceRegisters.ts';
import { benchUnits, serveModbus, type ServedDevice } from './modbusServer.ts';
import type { StoredCopy } from './parameterStore.ts';
import { SpindleRegisters } from './spindleRegisters.ts';
import { carriageWorld, grinderWorld } from './world.ts';

// A simulated drive keeps time like a real one, as far as the system allows it.
try {
  setPriority(-10);
} catch {
  // Only an administrator may ask for that.
}
const folder = join(process.env.KAVRID_VAR ?? 'var', 'bench');
const port = Number(process.env.BENCH_PORT ?? 5502);

mkdirSync(folder, { recursive: true });
/** What a file keeps; undefined when it is not there, or cannot be read as after a power cut while it was written. */
function readKept<T>(file: string): T | undefined {
  if (!existsSync(file)) return undefined;
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as T;
  } catch {
    console.error(`bench: ${file} cannot be read; the device starts with its factory values.`);
    return undefined;
  }
}

/** What a device keeps through a power cycle lies in a file of its own. */
function memory(name: string): [kept: StoredCopy | undefined, keep: (copy: StoredCopy) => void] {
  const file = join(folder, `${name}.json`);
  return [
    readKept<StoredCopy>(file),
    (copy) => {
      writeFileSync(`${file}.new`, JSON.stringify(copy));
      renameSync(`${file}.new`, file);
    },
  ];
}

/** Two benches are different devices: each draws its serial numbers once. */
const serialFile = join(folder, 'serials.json');
const drawn = readKept<{ readonly servo: number; readonly spindle: number }>(serialFile);
const serials = drawn ?? { servo: randomInt(1, 2 ** 31), spindle: randomInt(1, 2 ** 31) };
if (!drawn) writeFileSync(serialFile, JSON.stringify(serials));

const { port: servedPort } = await serveModbus(
  new Map<number, ServedDevice>([
    [benchUnits.servo, new DeviceRegisters(carriageWorld, ...memory('servo'), serials.servo)],
    [benchUnits.spindle, new SpindleRegisters(grinderWorld, ...memory('spindle'), serials.spindle)],
  ]),
  port,
);
console.log(
  `bench: Modbus TCP on 127.0.0.1:${servedPort}, servo drive at unit ${benchUnits.servo}, spindle drive at unit ${benchUnits.spindle}`,
);
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
