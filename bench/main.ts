import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DeviceRegisters } from './deviceRegisters.ts';
import { benchUnits, serveModbus, type ServedDevice } from './modbusServer.ts';
import type { StoredCopy } from './parameterStore.ts';
import { SpindleRegisters } from './spindleRegisters.ts';
import { carriageWorld, grinderWorld } from './world.ts';

const folder = join(process.env.KAVRID_VAR ?? 'var', 'bench');
const port = Number(process.env.BENCH_PORT ?? 5502);

mkdirSync(folder, { recursive: true });
/** What a device keeps through a power cycle lies in a file of its own. */
function memory(name: string): [kept: StoredCopy | undefined, keep: (copy: StoredCopy) => void] {
  const file = join(folder, `${name}.json`);
  const kept = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as StoredCopy) : undefined;
  return [
    kept,
    (copy) => {
      writeFileSync(`${file}.new`, JSON.stringify(copy));
      renameSync(`${file}.new`, file);
    },
  ];
}

const { port: servedPort } = await serveModbus(
  new Map<number, ServedDevice>([
    [benchUnits.servo, new DeviceRegisters(carriageWorld, ...memory('servo'))],
    [benchUnits.spindle, new SpindleRegisters(grinderWorld, ...memory('spindle'))],
  ]),
  port,
);
console.log(
  `bench: Modbus TCP on 127.0.0.1:${servedPort}, servo drive at unit ${benchUnits.servo}, spindle drive at unit ${benchUnits.spindle}`,
);
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
