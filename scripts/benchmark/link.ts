// How fast the bench is read and written through the server's own link: over TCP, and over a serial line.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { benchUnits, makeBench, mapPath, serveModbus, serveSerial, type BenchPart } from '../../bench/index.ts';
import { readDriveProfile } from '../../contract/index.ts';
import { longestRead, type DeviceRequest, type LineAddress } from '../../core/procedure/index.ts';
import { askDevice } from '../../server/port/deviceRequests.ts';
import type { Line, LineResult } from '../../server/port/line.ts';
import { connectLine, Lines } from '../../server/port/lines.ts';

const read = readDriveProfile(readFileSync(mapPath('servo'), 'utf8'));
if (read.kind === 'refused') throw new Error(read.problems.join(' '));
const { profile } = read;
const bench = makeBench(() => ({}));
const devices = new Map((Object.keys(benchUnits) as BenchPart[]).map((part) => [benchUnits[part], bench.parts[part]]));
const server = await serveModbus(devices, 0);
const folder = mkdtempSync(join(tmpdir(), 'kavrid-benchmark-'));
const path = join(folder, 'serial');
const endSerial = serveSerial(path, { devices, characterTime: 11 / 115200 });
for (let waited = 0; waited < 50 && !existsSync(path); waited++) await pause(100);

async function measure(address: LineAddress): Promise<readonly (readonly [string, string])[]> {
  let letGo = () => undefined as void;
  const line = await new Promise<Line>((resolve, reject) => {
    letGo = new Lines(connectLine).use(address, { up: resolve, lost: (because) => reject(new Error(because)) });
  });
  const ask = (request: DeviceRequest) =>
    askDevice(
      profile,
      request,
      (modbus) =>
        new Promise<LineResult>((settled) =>
          line.ask({
            unit: benchUnits.servo,
            request: modbus,
            isAllowed: () => true,
            priority: 'normal',
            isMotion: false,
            settled,
          }),
        ),
      longestRead(address),
    );
  const perSecond = async (seconds: number, each: number, once: () => Promise<unknown>) => {
    const began = performance.now();
    let count = 0;
    while (performance.now() - began < 1000 * seconds) {
      await once();
      count += each;
    }
    return `${Math.round((1000 * count) / (performance.now() - began))} a second`;
  };
  const rows = [
    ['parameters read, in all copies', await perSecond(3, profile.parameters.length, () => ask({ kind: 'read all' }))],
    [
      'parameters written',
      await perSecond(3, 1, () => ask({ kind: 'write parameter', key: 'positionGain', raw: 400 })),
    ],
    [
      'samples of a recording, of eight channels',
      await perSecond(3, 70, () => ask({ kind: 'read trace', from: 0, count: 70 })),
    ],
  ] as const;
  letGo();
  return rows;
}

const lines = {
  'Modbus TCP': { kind: 'tcp', host: '127.0.0.1', port: server.port },
  'Modbus RTU, 115 200 baud': { kind: 'serial', path, baud: 115200, parity: 'even', stopBits: 1 },
} as const satisfies Record<string, LineAddress>;
for (const [name, address] of Object.entries(lines))
  for (const [what, figure] of await measure(address)) console.log(`| ${what}, over ${name} | none | ${figure} |`);
endSerial();
await server.close();
rmSync(folder, { recursive: true, force: true });
