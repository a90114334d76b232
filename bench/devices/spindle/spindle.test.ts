import { createServer, Socket } from 'node:net';
import { client as modbusClients } from 'jsmodbus';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import {
  carriageWorld,
  grinderWorld,
  makeServo,
  makeSpindle,
  mapPath,
  readRegisterMap,
  serveModbus,
  type RegisterCells,
  type RunningServer,
} from '../../index.ts';
import { spindleError } from './spindleDevice.ts';

const map = readRegisterMap(mapPath('spindle'));
const address = (key: string): number => {
  const found = map.registers.find((r) => r.key === key)?.address ?? map.parameters.find((p) => p.key === key)?.address;
  if (found === undefined) throw new Error(`no register ${key}`);
  return found;
};
const store = [0x6576, 0x6173] as const;
/** Raw values that let it run from the field bus, and watch its link. */
const settings = {
  runSource: 2,
  speedSource: 3,
  highestHertz: 6000,
  rampUp: 30,
  // Long enough to need no brake resistor.
  rampDown: 60,
  busTimeOut: 50,
  lostLink: 1,
};

function bench(more: Readonly<Record<string, number>> = {}) {
  const registers = makeSpindle(grinderWorld);
  const { device } = registers;
  const write = (key: string, ...words: number[]) => registers.write(address(key), words);
  for (const [key, raw] of Object.entries({ ...settings, ...more })) expect(write(key, raw), key).toBeUndefined();
  write('store', ...store);
  write('restart', 1);
  /** Lets time pass while somebody polls, or nobody. */
  const pass = (seconds: number, isPolled = true) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.02) {
      if (isPolled) registers.read(address('statusword'), 1);
      device.advance(0.02);
    }
  };
  pass(1);
  const run = (hertz: number, word = 0x0f) => {
    write('speedReference', Math.round(hertz * 100));
    for (const each of [0x06, 0x07, word]) write('controlword', each);
  };
  return { registers, device, write, pass, run };
}

describe('the spindle drive of the bench', () => {
  it('goes through its states and its ramp to the speed asked for, and back', () => {
    const { device, write, pass, run } = bench();
    expect(device.state).toBe('switch on disabled');
    run(50);
    expect(device.state).toBe('operation enabled');
    pass(1);
    // 60 Hz in 3 s: 20 Hz after one.
    expect(device.outputHertz).toBeCloseTo(2000, -2);
    expect(device.isAtSpeed).toBe(false);
    pass(2);
    expect(device.outputHertz).toBe(5000);
    expect(device.isAtSpeed).toBe(true);
    // The field turns with 3000 rpm (120·f/poles); friction alone slips little.
    expect(device.speed / 10).toBeGreaterThan(2980);
    expect(device.speed / 10).toBeLessThan(3000);
    write('controlword', 0x07);
    expect(device.state).toBe('switched on');
    pass(1);
    expect(device.outputHertz).toBeCloseTo(4000, -2);
    pass(5);
    expect([device.outputHertz, device.speed, device.isRunning]).toEqual([0, 0, false]);
  });

  it('holds the limits that are set, and turns the other way only after it has stood', () => {
    const { device, write, pass, run } = bench({ lowestHertz: 2000 });
    run(70);
    pass(5);
    expect(device.outputHertz).toBe(6000);
    write('speedReference', 500);
    pass(5);
    expect(device.outputHertz).toBe(2000);
    write('controlword', 0x080f);
    let stood = false;
    for (let k = 0; k < 200 && device.outputHertz > -2000; k++) {
      pass(0.02);
      stood ||= device.outputHertz === 0;
    }
    expect(stood).toBe(true);
    expect(device.outputHertz).toBe(-2000);
    expect(device.speed).toBeLessThan(-11000);
  });

  it('takes a run command only from where it is set to', () => {
    const { device, run } = bench({ runSource: 1 });
    run(50);
    expect(device.state).toBe('switched on');
    const other = bench({ speedSource: 1 });
    other.run(50);
    other.pass(2);
    expect([other.device.state, other.device.outputHertz]).toEqual(['operation enabled', 0]);
  });

  it('trips where a stop gives back too much, coasts, and runs again after a reset', () => {
    const { device, write, pass, run } = bench({ rampDown: 5 });
    run(55);
    pass(5);
    write('controlword', 0x07);
    pass(1);
    expect([device.state, device.error]).toEqual(['fault', spindleError.overvoltage]);
    expect(device.speed).toBeGreaterThan(10000);
    write('controlword', 0x0f);
    expect(device.state).toBe('fault');
    write('controlword', 0x80);
    expect([device.state, device.error]).toEqual(['switch on disabled', 0]);
    // With its resistor the same stop goes through.
    const braked = bench({ rampDown: 5, brakeResistor: 1 });
    braked.run(55);
    braked.pass(5);
    braked.write('controlword', 0x07);
    braked.pass(2);
    expect([braked.device.state, braked.device.speed]).toEqual(['switched on', 0]);
  });

  it.each([
    [1, 'ramps to rest', spindleError.linkLost],
    [2, 'coasts', spindleError.linkLost],
    [0, 'goes on', 0],
  ])('without its link (%d) it %s', (lostLink, what, error) => {
    const { device, pass, run } = bench({ lostLink });
    run(50);
    pass(4);
    // Half a second is its patience; any message that is understood counts.
    pass(0.4, false);
    expect(device.error).toBe(0);
    pass(0.2, false);
    expect(device.error).toBe(error);
    pass(1, false);
    const speed = device.speed / 10;
    if (what === 'goes on') expect(speed).toBeGreaterThan(2980);
    else if (what === 'coasts') {
      expect(device.state).toBe('fault');
      // 0.41 N·m on 0.0088 kg·m²: 445 rpm a second
      expect(speed).toBeGreaterThan(2420);
    } else {
      expect(speed).toBeLessThan(2420);
      pass(5, false);
      expect([device.state, device.speed]).toEqual(['fault', 0]);
    }
  });

  it('keeps its copies apart, locks what a running motor forbids, and trips on overload', () => {
    const { registers, device, write, pass, run } = bench({ protectionCurrent: 800 });
    run(50);
    expect(write('baseHertz', 40000)).toBe('illegal value');
    expect(write('restart', 1)).toBe('illegal value');
    pass(4);
    expect(write('benchLoad', 1400)).toBeUndefined();
    pass(20);
    // Nearly twice its rated torque on it, it slips more than twice as much as the plate’s 5 %.
    expect(device.motorCurrent / 100).toBeGreaterThan(12);
    pass(60);
    expect([device.state, device.error]).toEqual(['fault', spindleError.overload]);
    const parameter = map.parameters.find(({ key }) => key === 'baseHertz');
    if (!parameter) throw new Error('no base');
    write('controlword', 0);
    expect(write('baseHertz', 40000)).toBeUndefined();
    const copy = (at: number) => registers.read(at, 1);
    expect([parameter.address, parameter.running, parameter.factoryAddress].map(copy)).toEqual([
      [40000],
      [5000],
      [5000],
    ]);
    // It keeps its stored copy to itself: what is stored only a restart shows.
    expect(parameter.stored).toBeUndefined();
    expect(write('rampUp', 0)).toBe('illegal value');
    expect(registers.read(7000, 1)).toBe('illegal address');
  });
});

describe('over Modbus TCP, read by an independent package', () => {
  let server: RunningServer;
  const port = { value: 0 };
  const spindle = makeSpindle(grinderWorld);
  beforeAll(async () => {
    port.value = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const at = probe.address();
        probe.close(() => resolve(typeof at === 'object' && at ? at.port : 0));
      });
    });
    const servo = makeServo(carriageWorld);
    server = await serveModbus(
      new Map<number, RegisterCells>([
        [1, servo],
        [3, spindle],
      ]),
      port.value,
    );
  });
  afterAll(() => server.close());

  async function client(unit: number) {
    const socket = new Socket();
    const made = new modbusClients.TCP(socket, unit, 2000);
    await new Promise<void>((resolve) => socket.connect({ host: '127.0.0.1', port: port.value }, () => resolve()));
    return { made, close: () => socket.end() };
  }

  it('runs, tells its speed, trips and is reset; another unit is another device', async () => {
    const { made, close } = await client(3);
    const write = (key: string, value: number) => made.writeSingleRegister(address(key), value);
    const words = async (key: string, count: number) =>
      (await made.readHoldingRegisters(address(key), count)).response.body.valuesAsArray;
    for (const [key, raw] of Object.entries({ ...settings, rampUp: 10 })) await write(key, raw);
    await made.writeMultipleRegisters(address('store'), [...store]);
    await write('restart', 1);
    // Restarting devices do not answer.
    const waiting = { timeout: 60_000, interval: 10 };
    await vi.waitUntil(() => words('statusword', 1).then(Boolean, () => false), waiting);
    await write('speedReference', 3000);
    for (const word of [0x06, 0x07, 0x0f]) await write('controlword', word);
    let status: readonly number[] = [];
    await vi.waitUntil(async () => {
      // Status, trip and actual speed in one message, as the poll list has it.
      status = [...(await words('statusword', 3))];
      return ((status[0] ?? 0) & 0x0400) !== 0 && status[2] === 3000;
    }, waiting);
    expect(status[0]).toBe(0x0627);
    expect(status.slice(1)).toEqual([0, 3000]);
    await expect(made.readHoldingRegisters(7000, 1)).rejects.toMatchObject({ response: { body: { code: 2 } } });
    await write('controlword', 0);
    close();
    const stranger = await client(2);
    await expect(stranger.made.readHoldingRegisters(8448, 1)).rejects.toMatchObject({
      response: { body: { code: 11 } },
    });
    stranger.close();
    const servo = await client(1);
    expect((await servo.made.readHoldingRegisters(40, 1)).response.body.valuesAsArray).toHaveLength(1);
    servo.close();
  });
});
