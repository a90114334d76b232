import { carriageWorld, makeServo, serveModbus } from '@kavrid/bench';
import { describe, expect, it } from 'vitest';
import { faultyProxy, proxyFaults, requestFaults } from '../test/faultyProxy.ts';
import { isProof, proofSeed, recordProof } from '@kavrid/bench/test/proof.ts';
import { seeded } from '@kavrid/bench/test/seeded.ts';
import { profiles } from '../test/simulatedDrive.ts';
import type { Line, LineResult } from './line.ts';
import { connectLine, Lines } from './lines.ts';
import type { ModbusRequest } from './transport.ts';

const gain = profiles.axis.parameters.find(({ key }) => key === 'positionGain');
if (!gain) throw new Error('the servo drive has no position gain');
const { address, minimum, maximum, scale } = gain;
const [least, most] = [Math.round(minimum / scale), Math.round(maximum / scale)];

/** One drive behind a proxy of its own, and everything that it has carried out. */
async function drive(seed: number) {
  const random = seeded(seed);
  const registers = makeServo(carriageWorld);
  const done: number[] = [];
  const write = registers.write.bind(registers);
  registers.write = (at, words) => {
    const error = write(at, words);
    if (at === address && error === undefined) done.push((words[0] ?? 0) * 65536 + (words[1] ?? 0));
    return error;
  };
  const server = await serveModbus(new Map([[1, registers]]), 0);
  let [faults, isMended] = [0, false];
  const proxy = await faultyProxy(
    server.port,
    (way) => {
      if (isMended || random() > 0.2) return undefined;
      faults++;
      const kinds = way === 'request' ? requestFaults : proxyFaults;
      return kinds[Math.floor(random() * kinds.length)];
    },
    random,
    // Some come within the time-out of 800 ms, some after it.
    () => 1200 * random(),
  );
  const lines = new Lines(connectLine);
  let [line, letGo]: [Line | undefined, () => void] = [undefined, () => undefined];
  const open = () =>
    new Promise<Line | undefined>((resolve) => {
      letGo = lines.use(
        { kind: 'tcp', host: '127.0.0.1', port: proxy.port },
        { up: (made) => resolve((line = made)), lost: () => resolve((line = undefined)) },
      );
    });
  const ask = async (request: ModbusRequest): Promise<LineResult> => {
    for (let tries = 0; !line?.isOpen && tries < 20; tries++) await open();
    const used = line;
    if (!used) return { kind: 'lost' };
    return new Promise((settled) =>
      used.ask({ unit: 1, request, isAllowed: () => true, priority: 'normal', isMotion: false, settled }),
    );
  };
  return {
    done,
    ask,
    faults: () => faults,
    mend: () => void (isMended = true),
    async end() {
      letGo();
      proxy.close();
      await server.close();
    },
  };
}

describe('writing over real sockets through a proxy that delays, drops, cuts, splits, doubles and corrupts', () => {
  it('every write is carried out once, or told; none comes late, twice or out of its turn', async () => {
    const [devices, writes] = isProof ? [10, 400] : [4, 12];
    const faults = await Promise.all(
      Array.from({ length: devices }, async (_, k) => {
        const world = await drive(proofSeed + k);
        for (let n = 0; n < writes; n++) {
          const value = least + ((n * 7 + 1) % (most - least));
          const before = world.done.length;
          const { kind } = await world.ask({ kind: 'write', address, words: [value >>> 16, value & 0xffff] });
          const carriedOut = world.done.slice(before).filter((each) => each === value);
          // What is told as done has been done, at the moment at which it is told.
          if (kind === 'answered') expect(carriedOut).toEqual([value]);
          expect(carriedOut.length).toBeLessThanOrEqual(1);
        }
        const order = Array.from({ length: writes }, (__, n) => least + ((n * 7 + 1) % (most - least)));
        const places = world.done.map((value) => order.indexOf(value));
        // Each at most once, and in the order in which they were asked for.
        expect(places.every((place, at) => place >= 0 && (at === 0 || place > (places[at - 1] ?? -1)))).toBe(true);
        world.mend();
        let read: LineResult = { kind: 'lost' };
        for (let tries = 0; read.kind !== 'answered' && tries < 20; tries++)
          read = await world.ask({ kind: 'read', address, words: 2, function: 3 });
        const last = world.done.at(-1) ?? NaN;
        expect(read).toMatchObject({ kind: 'answered', words: [last >>> 16, last & 0xffff] });
        await world.end();
        return world.faults();
      }),
    );
    const sum = faults.reduce((all, each) => all + each, 0);
    expect(sum).toBeGreaterThan(devices * writes * 0.15);
    recordProof('faults of a proxy between link and drive', { faults: sum, writes: devices * writes });
  }, 900_000);
});
