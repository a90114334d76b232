import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DeviceRegisters } from './deviceRegisters.ts';
import { serveModbus } from './modbusServer.ts';
import type { StoredCopy } from './parameterStore.ts';
import { carriageWorld } from './world.ts';

const folder = join(process.env.KAVRID_VAR ?? 'var', 'bench');
const file = join(folder, 'servo.json');
const port = Number(process.env.BENCH_PORT ?? 5502);

mkdirSync(folder, { recursive: true });
const kept = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as StoredCopy) : undefined;
const keep = (copy: StoredCopy) => {
  writeFileSync(`${file}.new`, JSON.stringify(copy));
  renameSync(`${file}.new`, file);
};

const { port: servedPort } = await serveModbus(new DeviceRegisters(carriageWorld, kept, keep), port);
console.log(`bench servo drive: Modbus TCP on 127.0.0.1:${servedPort}, unit 1`);
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
