import { EventEmitter, once } from 'node:events';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeBench, benchUnits, serveSerial, type BenchPart } from '@kavrid/bench';
import type { LineAddress } from '@kavrid/core/procedure';
import ModbusRTU from 'modbus-serial';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Line, type LineRequest, type LineResult } from './line.ts';
import { connecting, Lines } from './lines.ts';
import { withCheck } from './rtuFrame.ts';
import { connectSerial, serialAnswerTime, type BytePort } from './serialTransport.ts';

const address = (path: string, baud: 19200 | 115200 = 115200): Extract<LineAddress, { kind: 'serial' }> => ({
  kind: 'serial',
  path,
  baud,
  parity: 'even',
  stopBits: 1,
});

/** A port whose other end is a test. */
class FakePort extends EventEmitter {
  readonly sent: string[] = [];
  isOpen = true;
  write = (bytes: Buffer) => void this.sent.push(bytes.toString('hex'));
  flush = (done: () => void) => done();
  close = () => void (this.isOpen = false);
  hear = (...body: number[]) => this.emit('data', withCheck(body));
}

describe('a serial line', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  async function open() {
    const port = new FakePort();
    const making = connectSerial(address('/dev/x'), new AbortController().signal, {
      open: () => Promise.resolve(port as unknown as BytePort),
    });
    making.catch(() => undefined);
    const events: string[] = [];
    const results: Record<string, LineResult> = {};
    const ready = async () => {
      await vi.advanceTimersByTimeAsync(400);
      return new Line(await making, (because) => events.push(because));
    };
    const request = (name: string, more: Partial<LineRequest> = {}): LineRequest => ({
      unit: 1,
      request: { kind: 'read', address: 40, words: 1, function: 3 },
      isAllowed: () => true,
      priority: 'normal',
      isMotion: false,
      settled: (result) => void (results[name] = result),
      ...more,
    });
    return { port, making, events, results, ready, request };
  }
  const write = (value: number, at = 0) => ({ kind: 'write', address: at, words: [value] }) as const;
  const time = serialAnswerTime(address('/dev/x'), { kind: 'read', address: 40, words: 1, function: 3 });

  it('is listened to before anything is sent: where another master speaks, it is left alone', async () => {
    const { port, making } = await open();
    await vi.advanceTimersByTimeAsync(100);
    port.hear(7, 3, 0, 1, 0, 2);
    await vi.advanceTimersByTimeAsync(400);
    await expect(making).rejects.toThrow('another master transmits on this line');
    expect(port.sent).toEqual([]);
    expect(port.isOpen).toBe(false);
  });

  it('is given up as soon as another master speaks later on; noise of a byte or two is no master', async () => {
    const { port, ready, events, request, results } = await open();
    const line = await ready();
    port.emit('data', Buffer.of(0, 255));
    line.ask(request('a'));
    port.hear(1, 3, 2, 0, 9);
    await vi.advanceTimersByTimeAsync(10);
    expect(results.a).toEqual({ kind: 'answered', words: [9] });
    port.hear(7, 3, 0, 1, 0, 2);
    expect(events).toEqual([expect.stringContaining('another master')]);
    line.ask(request('b', { priority: 'stop', request: write(0) }));
    expect(results.b).toEqual({ kind: 'lost' });
    expect(port.sent).toHaveLength(1);
  });

  it('carries one request at a time; a stop goes before all that waits, and only if its permit still stands', async () => {
    const { port, ready, request, results } = await open();
    const line = await ready();
    let isAllowed = true;
    line.ask(request('first'));
    line.ask(request('motion', { request: write(15), isAllowed: () => isAllowed }));
    line.ask(request('beat', { priority: 'beat', request: write(1, 16) }));
    line.ask(request('stop', { priority: 'stop', request: write(0) }));
    isAllowed = false;
    expect(port.sent).toHaveLength(1);
    port.hear(1, 3, 2, 0, 9);
    await vi.advanceTimersByTimeAsync(3);
    expect(port.sent.at(-1)?.slice(0, 12)).toBe('010600000000');
    port.hear(1, 6, 0, 0, 0, 0);
    await vi.advanceTimersByTimeAsync(3);
    expect(results.stop).toEqual({ kind: 'answered', words: [] });
    expect(port.sent).toHaveLength(3);
    port.hear(1, 6, 0, 16, 0, 1);
    expect(results.beat).toEqual({ kind: 'answered', words: [] });
    await vi.advanceTimersByTimeAsync(3);
    expect(results.motion).toEqual({ kind: 'not allowed' });
    expect(port.sent).toHaveLength(3);
  });

  it('a stop waits for one response time-out at most, also behind a silent device', async () => {
    const { port, ready, request } = await open();
    const line = await ready();
    line.ask(request('silent', { request: write(5, 100) }));
    await vi.advanceTimersByTimeAsync(1);
    line.ask(request('stop', { priority: 'stop', request: write(0) }));
    await vi.advanceTimersByTimeAsync(time + 60);
    expect(port.sent.at(-1)?.slice(0, 12)).toBe('010600000000');
  });

  it('an answer that comes too late is not taken for the next one', async () => {
    const { port, ready, request, results } = await open();
    const line = await ready();
    line.ask(request('write', { request: write(5, 100) }));
    await vi.advanceTimersByTimeAsync(time + 20);
    expect(results.write).toEqual({ kind: 'timed out' });
    line.ask(request('status'));
    expect(port.sent).toHaveLength(1);
    port.hear(1, 3, 2, 0, 1);
    await vi.advanceTimersByTimeAsync(40);
    expect(port.sent).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(20);
    expect(port.sent).toHaveLength(2);
    // An echo of another value than was written is no answer at all.
    port.hear(1, 3, 2, 0, 2);
    await vi.advanceTimersByTimeAsync(5);
    expect(results.status).toEqual({ kind: 'answered', words: [2] });
    line.ask(request('again', { request: write(6, 100) }));
    port.hear(1, 6, 0, 100, 0, 7);
    await vi.advanceTimersByTimeAsync(time + 20);
    expect(results.again).toEqual({ kind: 'timed out' });
  });

  it('a write that was not answered is not sent again; a read is, once', async () => {
    const { port, ready, request, results, events } = await open();
    const line = await ready();
    line.ask(request('write', { request: write(5, 100) }));
    line.ask(request('read'));
    await vi.advanceTimersByTimeAsync(4 * (time + 60));
    expect(port.sent.map((frame) => frame.slice(2, 4))).toEqual(['06', '03', '03']);
    expect(results).toMatchObject({ write: { kind: 'timed out' }, read: { kind: 'timed out' } });
    expect(events).toEqual(['it does not respond']);
  });
});

describe('over pseudo-terminals', () => {
  const folder = mkdtempSync(join(tmpdir(), 'kavrid-serial-'));
  /** Both ends are programs on a machine that may be busy. */
  const patient = connecting(10);
  const ends: (() => unknown)[] = [];
  afterEach(async () => {
    for (const end of ends.splice(0).reverse()) await end();
  });
  const there = (path: string) => vi.waitFor(() => expect(existsSync(path)).toBe(true), 5000);

  async function benchLine(chunkTime = 16) {
    const path = join(folder, 'bench');
    const bench = makeBench(() => ({ serial: 4711 }));
    const devices = new Map(
      (Object.keys(benchUnits) as BenchPart[]).map((part) => [benchUnits[part], bench.parts[part]]),
    );
    ends.push(serveSerial(path, { devices, characterTime: 11 / 115200, chunkTime }));
    ends.push(() => rmSync(path, { force: true }));
    await there(path);
    return { path, bench };
  }
  const lineAt = (path: string) =>
    new Promise<{ line: Line; letGo: () => void }>((resolve, reject) => {
      const letGo = new Lines(patient).use(address(path), {
        up: (line) => resolve({ line, letGo }),
        lost: (because) => reject(new Error(because)),
      });
      ends.push(letGo);
    });
  const ask = (line: Line, unit: number, request: LineRequest['request']) =>
    new Promise<LineResult>((settled) =>
      line.ask({ unit, request, isAllowed: () => true, priority: 'normal', isMotion: false, settled }),
    );

  it('the bench answers an independent client (modbus-serial), and units that are not there are silent', async () => {
    const { path, bench } = await benchLine();
    const client = new ModbusRTU();
    ends.push(() => new Promise<void>((done) => client.close(() => done())));
    await client.connectRTUBuffered(path, { baudRate: 115200, parity: 'even' });
    client.setTimeout(1000);
    client.setID(1);
    expect((await client.readHoldingRegisters(68, 2)).data).toEqual([0, 4711]);
    expect((await client.readHoldingRegisters(100, 40)).data).toHaveLength(40);
    await client.writeRegisters(112, [0, 555]);
    expect(bench.parts.servo.device.parameters.written.speedBandwidth).toBe(555);
    await expect(client.readHoldingRegisters(5000, 1)).rejects.toThrow('Illegal data address');
    client.setID(9);
    client.setTimeout(150);
    await expect(client.readHoldingRegisters(68, 2)).rejects.toThrow('Timed out');
  });

  it('the link reads and writes an independent server (modbus-serial), whole values in one request', async () => {
    const [near, far] = [join(folder, 'near'), join(folder, 'far')];
    const pair = spawn('socat', [`pty,rawer,link=${near}`, `pty,rawer,link=${far}`]);
    ends.push(() => pair.kill());
    await there(near);
    await there(far);
    const registers = new Map<number, number>([[68, 0x1234]]);
    const writes: string[] = [];
    const { ServerSerial } = ModbusRTU as unknown as {
      readonly ServerSerial: new (
        vector: object,
        options: object,
        port: object,
      ) => EventEmitter & { close(done: () => void): void };
    };
    const server = new ServerSerial(
      {
        getHoldingRegister: (at: number) => registers.get(at) ?? 0,
        setRegister: (at: number, value: number) => {
          writes.push(`${at}=${value}`);
          registers.set(at, value);
        },
      },
      { port: far, baudRate: 115200, parity: 'even', unitID: 5, openCallback: () => undefined },
      {},
    );
    await once(server, 'initialized');
    ends.push(() => new Promise<void>((done) => server.close(() => done())));
    const { line } = await lineAt(near);
    expect(await ask(line, 5, { kind: 'read', address: 68, words: 3, function: 3 })).toEqual({
      kind: 'answered',
      words: [0x1234, 0, 0],
    });
    expect(await ask(line, 5, { kind: 'write', address: 100, words: [1, 2] })).toEqual({ kind: 'answered', words: [] });
    expect(await ask(line, 5, { kind: 'write', address: 104, words: [7] })).toEqual({ kind: 'answered', words: [] });
    expect(writes).toEqual(['100=1', '101=2', '104=7']);
    expect(await ask(line, 6, { kind: 'write', address: 104, words: [8] })).toEqual({ kind: 'timed out' });
  });

  it('one owner holds a port: other settings, and another program, are refused with the reason', async () => {
    const { path } = await benchLine(0);
    const lines = new Lines(patient);
    const state = await new Promise<string>((resolve) => {
      ends.push(lines.use(address(path), { up: () => resolve('up'), lost: resolve }));
    });
    expect(state).toBe('up');
    const other = await new Promise<string>((resolve) => {
      lines.use(address(path, 19200), { up: () => resolve('up'), lost: resolve });
    });
    expect(other).toContain('in use: ');
    const stranger = await new Promise<string>((resolve) => {
      new Lines(patient).use(address(path), { up: () => resolve('up'), lost: resolve });
    });
    expect(stranger).toContain('in use by another program');
    const nowhere = await new Promise<string>((resolve) => {
      new Lines(patient).use(address(join(folder, 'nothing')), { up: () => resolve('up'), lost: resolve });
    });
    expect(nowhere).toContain('there is no serial port');
  });
});
