import { benchUnits, makeBench, serveModbus, type BenchPart, type RunningServer } from '@kavrid/bench';
import type { FoundDevices, SearchOrder } from '@kavrid/contract';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { findDevices } from './deviceFinder.ts';
import { connectLine, Lines, type Connect } from './lines.ts';
import { fullDuplex } from './tcpTransport.ts';

const serial = {
  kind: 'serial',
  path: '/dev/x',
  baud: 19200,
  parity: 'even',
  stopBits: 1,
  unit: 1,
  profileId: null,
} as const;
const search = async (lines: Lines, order: SearchOrder, signal = new AbortController().signal) => {
  const told: FoundDevices[] = [];
  await findDevices(lines, order, signal, (found) => told.push(found));
  return told;
};

describe('a search for devices', () => {
  let server: RunningServer;
  const bench = makeBench(() => ({}));
  beforeEach(async () => {
    const parts = Object.keys(benchUnits) as BenchPart[];
    server = await serveModbus(new Map(parts.map((part) => [benchUnits[part], bench.parts[part]])), 0);
  });
  afterEach(() => server.close());

  it('finds who answers, tells how far it is, changes nothing, and gives the line back', async () => {
    const link = { kind: 'tcp', host: '127.0.0.1', port: server.port, unit: 1, profileId: null } as const;
    const before = JSON.stringify(bench.parts.servo.device.parameters.written);
    const lines = new Lines(connectLine);
    const told = await search(lines, { link, bauds: [], from: 0, to: 22 });
    expect(told.at(-1)).toEqual({
      isRunning: false,
      done: 23,
      total: 23,
      devices: Object.values(benchUnits)
        .sort((a, b) => a - b)
        .map((unit) => ({
          unit,
          answer: expect.stringMatching(/a value|an exception/) as string,
        })),
    });
    expect(told.map(({ done }) => done)).toEqual([...Array.from({ length: 24 }, (_, k) => k), 23]);
    expect(JSON.stringify(bench.parts.servo.device.parameters.written)).toBe(before);
    expect(lines.size).toBe(0);
  });

  it('has a line for itself: not one that is in use, and nobody joins it meanwhile', async () => {
    let answers: (() => void)[] = [];
    const sent: number[] = [];
    const connect: Connect = () =>
      Promise.resolve({
        ...fullDuplex,
        send: (unit: number, _request: object, answered: (answer: { kind: 'answered'; words: number[] }) => void) => {
          sent.push(unit);
          answers.push(() => answered({ kind: 'answered', words: [0] }));
        },
        onClose: () => undefined,
        reset: () => undefined,
        end: () => undefined,
      });
    const lines = new Lines(connect);
    const letGo = lines.use(serial, { up: () => undefined, lost: () => undefined });
    const busy = await search(lines, { link: serial, bauds: [19200], from: 1, to: 3 });
    expect(busy.at(-1)).toMatchObject({
      isRunning: false,
      because: '/dev/x is in use; disconnect the drives on it first',
    });
    expect(sent).toEqual([]);
    letGo();

    const end = new AbortController();
    const searching = search(lines, { link: serial, bauds: [9600, 19200], from: 1, to: 5 }, end.signal);
    await vi.waitFor(() => expect(sent).toEqual([1]));
    const refused = await new Promise<string>((resolve) => {
      lines.use(serial, { up: () => resolve('up'), lost: resolve });
    });
    expect(refused).toContain('a search for devices has it');
    answers.splice(0).forEach((answer) => answer());
    await vi.waitFor(() => expect(sent).toEqual([1, 2]));
    // Ended by hand: what is under way is awaited, and no other address is asked.
    end.abort();
    answers.splice(0).forEach((answer) => answer());
    answers = [];
    expect((await searching).at(-1)).toMatchObject({ isRunning: false, done: 2, total: 10 });
    expect(sent).toEqual([1, 2]);
    expect(lines.size).toBe(0);
  });
});
