import { randomInt } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { benchUnits, makeBench, type BenchPart } from './makeBench.ts';
import type { StoredCopy } from './devices/parameterStore.ts';
import type { DeviceMemory } from './devices/registerCells.ts';
import { serveModbus } from './protocol/modbusServer.ts';
import { corePlant } from './world/axisPlant.ts';
import { secondPlant } from './world/secondPlant.ts';
import { serveSerial } from './protocol/serialLine.ts';

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

/** Two benches are different devices: each draws its serial numbers once. */
const serialFile = join(folder, 'serials.json');
const drawn = readKept<Readonly<Record<string, number>>>(serialFile) ?? {};
const parts = Object.keys(benchUnits) as readonly BenchPart[];
const serials = Object.fromEntries(parts.map((part) => [part, drawn[part] ?? randomInt(1, 2 ** 31)]));
writeFileSync(`${serialFile}.new`, JSON.stringify(serials));
renameSync(`${serialFile}.new`, serialFile);

/** What a device keeps through a power cycle lies in a file of its own. */
function memoryOf(name: string): DeviceMemory {
  const file = join(folder, `${name}.json`);
  return {
    kept: readKept<StoredCopy>(file),
    keep: (copy) => {
      writeFileSync(`${file}.new`, JSON.stringify(copy));
      renameSync(`${file}.new`, file);
    },
    serial: serials[name] ?? 1,
  };
}

/** Settings of the bench's serial line: eleven bits a character (Modbus over Serial Line V1.02). */
const baud = Number(process.env.BENCH_BAUD ?? 115200);
/** Another plant for the carriage, and a time that runs faster or slower than the clock; for tests. */
const { BENCH_PLANT, BENCH_TIME_SCALE } = process.env;
const bench = makeBench(memoryOf, BENCH_PLANT === 'second' ? secondPlant : corePlant);
const { port: servedPort } = await serveModbus(
  new Map(parts.map((part) => [benchUnits[part], bench.parts[part]])),
  port,
  { replies: bench.replies, timeScale: Number(BENCH_TIME_SCALE ?? 1) },
);
const units = parts.map((part) => `${part} at unit ${benchUnits[part]}`).join(', ');
console.log(`bench: Modbus TCP on 127.0.0.1:${servedPort}, ${units}`);
const serialPath = process.env.BENCH_SERIAL ?? join(folder, 'serial');
const endSerial = serveSerial(
  serialPath,
  {
    devices: new Map(parts.map((part) => [benchUnits[part], bench.parts[part]])),
    replies: bench.replies,
    characterTime: 11 / baud,
  },
  () => console.log('bench: no serial line, because socat is not installed'),
);
console.log(`bench: Modbus RTU at ${serialPath}, ${baud} baud, even parity`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    endSerial();
    process.exit(0);
  });
