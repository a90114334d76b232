import { createServer } from 'node:net';
import { Socket } from 'node:net';
import { client as modbusClients } from 'jsmodbus';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { carriageWorld, makeServo, mapPath, readRegisterMap, serveModbus, type RunningServer } from '../../index.ts';
import type { StoredCopy } from '../parameterStore.ts';

const map = readRegisterMap(mapPath('servo'));
const address = (key: string) => {
  const found = map.registers.find((r) => r.key === key)?.address ?? map.parameters.find((p) => p.key === key)?.address;
  if (found === undefined) throw new Error(`no register ${key}`);
  return found;
};
const words32 = (value: number) => [(value >>> 16) & 0xffff, value & 0xffff];

function bench(homeSwitch = carriageWorld.homeSwitch) {
  const kept: { copy?: StoredCopy } = {};
  const registers = makeServo({ ...carriageWorld, homeSwitch }, { keep: (copy) => (kept.copy = copy) });
  const write = (key: string, ...words: number[]) => registers.write(address(key), words);
  const write32 = (key: string, value: number) => write(key, ...words32(value));
  const read32 = (at: number) => {
    const words = registers.read(at, 2);
    return typeof words === 'string' ? NaN : ((words[0] ?? 0) << 16) | (words[1] ?? 0);
  };
  const enable = () => {
    write32('commandSource', 1);
    for (const word of [0x06, 0x07, 0x0f]) write('controlword', word);
  };
  /** Lets time pass with a heartbeat every 20 ms. */
  const pass = (seconds: number, alive = true) => {
    for (let t = 0; t < seconds; t += 0.02) {
      if (alive) write('heartbeat', 1);
      registers.device.advance(0.02);
    }
  };
  const inputs = () => read32(address('inputs'));
  return { registers, device: registers.device, inputs, write, write32, read32, enable, pass, kept };
}

describe('bench drive', () => {
  it('tells by its outputs what it does: ready, alarm contact, brake, in position, homed', () => {
    const { registers, device, enable, pass, write, write32 } = bench();
    const outputs = () => {
      const words = registers.read(address('outputStates'), 1);
      return typeof words === 'string' ? words : (words[0] ?? -1).toString(2);
    };
    expect(outputs()).toBe('11');
    enable();
    pass(0.1);
    expect(outputs()).toBe('1111');
    // Without heartbeats it stops, and the brake closes.
    pass(0.5, false);
    expect(outputs()).toBe('11');
    enable();
    write32('followingErrorWindow', 1);
    for (const key of ['profileAcceleration', 'profileDeceleration', 'quickStopDeceleration']) write32(key, 5_000_000);
    write('modeOfOperation', 3);
    write32('targetVelocity', 1_000_000);
    pass(0.5);
    expect(outputs()).toBe('0');
    write('controlword', 0);
    write('controlword', 0x80);
    device.terminals.wiring.setFault('safe torque off 1', 'broken');
    pass(0.1);
    expect(outputs()).toBe('10');
  });

  it('inputs stay forced as long as somebody is heard, and are free a second after the last request', () => {
    const { device, write, pass } = bench();
    write('inputForceStates', 1);
    write('inputForceMask', 1);
    pass(3);
    expect(device.terminals.inputs.forced).toBe(1);
    pass(0.9, false);
    expect(device.terminals.inputs.forced).toBe(1);
    pass(0.3, false);
    expect(device.terminals.inputs.forced).toBe(0);
  });

  it('keeps its copies apart: written, running, stored, factory', () => {
    const { write32, read32, write, kept, pass } = bench();
    const gear = map.parameters.find((p) => p.key === 'gearNumerator');
    if (!gear) throw new Error('no gear');
    const copies = () => [gear.address, gear.running, gear.stored ?? -1, gear.factoryAddress].map(read32);
    write32('gearNumerator', 12288);
    expect(copies()).toEqual([12288, 1, 1, 1]);
    expect(write32('store', 0x1234)).toBe('illegal value');
    expect(write32('store', 0x65766173)).toBeUndefined();
    expect(copies()).toEqual([12288, 1, 12288, 1]);
    expect(kept.copy?.storeCount).toBe(1);
    expect(write('restart', 1)).toBeUndefined();
    expect(write32('gearNumerator', 5)).toBe('busy');
    pass(1, false);
    expect(copies()).toEqual([12288, 12288, 12288, 1]);
    expect(write32('gearNumerator', 0)).toBe('illegal value');
    expect(write('gearNumerator', 1)).toBe('illegal address');
  });

  it('follows the CiA 402 state machine and refuses what a running motor forbids', () => {
    const { device, write, write32, enable } = bench();
    write('controlword', 0x0f);
    expect(device.state).toBe('switch on disabled');
    enable();
    expect(device.state).toBe('operation enabled');
    expect(write('restart', 1)).toBe('illegal value');
    expect(write32('commandSource', 0)).toBe('illegal value');
    write('controlword', 0x07);
    expect(device.state).toBe('switched on');
    write('controlword', 0x00);
    expect(device.state).toBe('switch on disabled');
  });

  it('moves by the gear: 100 mm are 10 000 increments at 12288/125', () => {
    const { device, write, write32, enable, pass } = bench();
    for (const [key, value] of [
      ['gearNumerator', 12288],
      ['gearDenominator', 125],
      ['inertiaRatio', 1640],
    ] as const)
      write32(key, value);
    write32('store', 0x65766173);
    write('restart', 1);
    pass(1, false);
    enable();
    write('modeOfOperation', 1);
    for (const [key, value] of [
      ['profileVelocity', 30000],
      ['profileAcceleration', 200000],
      ['targetPosition', 10000],
    ] as const)
      write32(key, value);
    write('controlword', 0x1f);
    pass(1.5);
    expect(device.mechanics.positionIncrements).toBeCloseTo(10000, -1);
    expect(device.mechanics.positionCounts / ((2 ** 20 * 3) / 320)).toBeCloseTo(100, 1);
    expect(device.statusword & 0x0400).toBe(0x0400);
  });

  it('turns the other way when its rotation sense is turned, and then no limit stops it', () => {
    const { device, write, write32, enable, pass, inputs } = bench();
    for (const [key, value] of [
      ['rotationSense', 1],
      ['followingErrorWindow', 20000000],
      ['inertiaRatio', 1640],
    ] as const)
      write32(key, value);
    write32('store', 0x65766173);
    write('restart', 1);
    pass(1, false);
    enable();
    write('modeOfOperation', 3);
    write32('profileAcceleration', 9000000);
    write32('quickStopDeceleration', 40000000);
    write32('targetVelocity', 4000000);
    pass(3);
    // Plus in counts, yet the minus limit, 640 mm away, is pressed; it guards only minus, so that the axis runs on to its hard stop.
    expect(device.mechanics.positionCounts).toBeGreaterThan(655 * 9830);
    expect(inputs()).toBe(1);
    expect(device.mechanics.loadCounts).toBeLessThan(-19 * 9830);
  });

  it('stops within a quick-stop ramp when heartbeats end', () => {
    const { device, write, write32, enable, pass } = bench();
    write32('followingErrorWindow', 2000000);
    // Tuned to its load, so that it does not swing.
    write32('inertiaRatio', 1600);
    enable();
    write('modeOfOperation', 3);
    write32('profileAcceleration', 5000000);
    write32('quickStopDeceleration', 20000000);
    write32('targetVelocity', 400000);
    pass(1);
    expect(Math.abs(device.mechanics.velocityCounts)).toBeGreaterThan(300000);
    pass(0.24, false);
    expect(device.state).not.toBe('operation enabled');
    pass(0.2, false);
    expect(Math.abs(device.mechanics.velocityCounts)).toBeLessThan(3000);
    expect(device.error).toBe(0x8130);
  });

  /** mm from the minus limit: the flag from 900 to 930, limits at 0 and 1885, a pulse every 320/3 from 39.774 on. */
  const pulse = (turns: number) => 391000 / ((2 ** 20 * 3) / 320) + turns * (320 / 3);
  const long = { plus: { from: 930, to: Infinity }, minus: { from: -Infinity, to: 900 } } as const;
  it.each([
    [1, pulse(0)],
    [2, pulse(17)],
    [3, pulse(8), long.plus],
    [4, pulse(9), long.plus],
    [5, pulse(9), long.minus],
    [6, pulse(8), long.minus],
    ...([7, 9, 12, 14] as const).map((method) => [method, pulse(8)] as const),
    ...([8, 10, 11, 13] as const).map((method) => [method, pulse(9)] as const),
    [17, 0],
    [18, 1885],
    [19, 930, long.plus],
    [20, 930, long.plus],
    [21, 900, long.minus],
    [22, 900, long.minus],
    ...([23, 24, 29, 30] as const).map((method) => [method, 900] as const),
    ...([25, 26, 27, 28] as const).map((method) => [method, 930] as const),
    [33, pulse(5)],
    [34, pulse(6)],
    [37, 640],
  ] as const satisfies readonly (readonly [number, number, { from: number; to: number }?])[])(
    'homes by method %i where the standard says',
    (...[method, latched, homeSwitch]) => {
      const perMillimetre = (2 ** 20 * 3) / 320;
      const { device, write, write32, enable, pass } = bench(
        homeSwitch && { from: homeSwitch.from * perMillimetre, to: homeSwitch.to * perMillimetre },
      );
      for (const [key, value] of [
        ['homingMethod', method],
        ['homingSearchSpeed', Math.round(240 * perMillimetre)],
        ['homingCreepSpeed', Math.round(12 * perMillimetre)],
        ['homingAcceleration', Math.round(3200 * perMillimetre)],
        ['homeOffset', Math.round(-10 * perMillimetre)],
        ['followingErrorWindow', 2000000],
        ['inertiaRatio', 1640],
      ] as const)
        write32(key, value);
      enable();
      write('modeOfOperation', 6);
      write('controlword', 0x1f);
      for (let seconds = 0; seconds < 40 && !device.homed; seconds += 0.5) pass(0.5);
      pass(0.2);
      expect(device.homed).toBe(true);
      // By the text of object 0x607C home reads the offset with the other sign.
      const reads = device.mechanics.positionCounts / perMillimetre;
      const latchedAt = device.mechanics.loadCounts / perMillimetre - (reads - 10);
      expect(Math.abs(latchedAt - latched)).toBeLessThan(0.1);
      // It stops within a millimetre of it.
      expect(Math.abs(reads - 10)).toBeLessThan(1);
    },
  );

  it('refuses a homing method that it does not have, and gives up a search that goes too far', () => {
    const { device, write, write32, enable, pass } = bench();
    expect([write32('homingMethod', 7), write32('homingMethod', 15)]).toEqual([undefined, 'illegal value']);
    write32('homingMostTravel', Math.round(20 * ((2 ** 20 * 3) / 320)));
    write32('followingErrorWindow', 2000000);
    enable();
    write('modeOfOperation', 6);
    write('controlword', 0x1f);
    pass(4);
    expect([device.homed, device.error]).toEqual([false, 0xff01]);
    const at = device.mechanics.positionCounts;
    pass(0.5);
    expect(device.mechanics.positionCounts).toBe(at);
  });

  it('trips on following error and wants a reset', () => {
    const { registers, device, write, write32, enable, pass } = bench();
    write32('followingErrorWindow', 500);
    enable();
    write('modeOfOperation', 3);
    write32('profileAcceleration', 50000000);
    write32('targetVelocity', 2000000);
    pass(0.3);
    expect([device.state, device.error]).toEqual(['fault', 0x8611]);
    write('controlword', 0x0f);
    expect(device.state).toBe('fault');
    write('controlword', 0x80);
    expect(device.state).toBe('switch on disabled');
    // It remembers, the newest first.
    enable();
    pass(0.5, false);
    expect(registers.read(address('pastFault1'), 3)).toEqual([0x8130, 0x8611, 0]);
  });

  it('forces inputs only while it stands, and is not enabled while one is forced', () => {
    const { device, write, enable, pass, inputs, read32 } = bench();
    write('inputForceStates', 2);
    expect(write('inputForceMask', 3)).toBeUndefined();
    pass(0.01);
    expect(inputs()).toBe(2);
    expect(read32(address('inputLevels')) & 3).toBe(3);
    enable();
    expect(device.state).toBe('switched on');
    expect(write('inputForceMask', 0)).toBeUndefined();
    write('controlword', 0x0f);
    expect(device.state).toBe('operation enabled');
    expect(write('inputForceMask', 1)).toBe('illegal value');
    write('controlword', 0);
    write('inputForceMask', 1);
    expect(write('restart', 1)).toBeUndefined();
    pass(1, false);
    expect(inputs()).toBe(0);
  });

  it('an inverted limit level makes both limits seem pressed', () => {
    const { write32, write, pass, inputs } = bench();
    expect(inputs()).toBe(0);
    write32('limitActiveLevel', 1);
    write32('store', 0x65766173);
    write('restart', 1);
    pass(1, false);
    expect(inputs()).toBe(3);
  });
});

describe('over Modbus TCP, read by the independent package jsmodbus', () => {
  let server: RunningServer;
  let socket: Socket;
  let client: InstanceType<typeof modbusClients.TCP>;
  beforeAll(async () => {
    const port = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const at = probe.address();
        probe.close(() => resolve(typeof at === 'object' && at ? at.port : 0));
      });
    });
    server = await serveModbus(new Map([[1, makeServo(carriageWorld)]]), port);
    socket = new Socket();
    client = new modbusClients.TCP(socket, 1, 2000);
    await new Promise<void>((resolve) => socket.connect(port, '127.0.0.1', resolve));
  });
  afterAll(async () => {
    socket.destroy();
    await server.close();
  });

  it('reads, writes two-word registers at once, and answers with exceptions', async () => {
    const gear = address('gearNumerator');
    await client.writeMultipleRegisters(gear, words32(70000));
    const back = await client.readHoldingRegisters(gear, 2);
    expect(back.response.body.valuesAsArray).toEqual([1, 4464]);
    const status = await client.readInputRegisters(address('statusword'), 1);
    expect((status.response.body.valuesAsArray[0] ?? 0) & 0x4f).toBe(0x40);
    await expect(client.writeSingleRegister(9000, 1)).rejects.toMatchObject({ err: 'ModbusException' });
    await expect(client.writeMultipleRegisters(gear, [0, 0])).rejects.toMatchObject({
      response: { body: { code: 3 } },
    });
  });

  it('fills its trace while time passes', async () => {
    await client.writeSingleRegister(address('traceRun'), 1);
    await vi.waitUntil(
      async () =>
        ((await client.readHoldingRegisters(address('traceHead'), 2)).response.body.valuesAsArray[1] ?? 0) > 60,
      { timeout: 60_000 },
    );
    const memory = await client.readHoldingRegisters(address('traceMemory'), 112);
    expect(memory.response.body.valuesAsArray).toHaveLength(112);
  });
});
