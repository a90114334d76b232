import { describe, expect, it } from 'vitest';
import { makeHost } from '../../host/host.ts';
import { liftWorld } from '../../world/demoCell.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { makeStepper, switchTable } from './stepperDevice.ts';

const map = readRegisterMap(mapPath('stepper'));
const address = (key: string) =>
  [...map.registers, ...map.parameters].find((each) => each.key === key)?.address ?? Number.NaN;

function bench() {
  const registers = makeStepper(liftWorld, { serial: 5 });
  const { device } = registers;
  const host = makeHost(device).device;
  const write = (key: string, value: number) =>
    registers.write(address(key), [(value >>> 16) & 0xffff, value & 0xffff]);
  const word = (key: string, value: number) => registers.write(address(key), [value]);
  const read = (key: string) => {
    const words = registers.read(address(key), 1);
    return typeof words === 'string' ? Number.NaN : (words[0] ?? Number.NaN);
  };
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.01) {
      host.advance(0.01);
      device.advance(0.01);
    }
  };
  const enable = (isOn = true) => {
    device.terminals.outputs.set('controller: servo on', isOn);
    pass(0.01);
  };
  const restart = () => {
    word('restart', 1);
    pass(1);
  };
  const switches = (position: number) => {
    write('switchPositions', position);
    write('store', 0x65766173);
    restart();
  };
  return { registers, device, host, write, word, read, pass, enable, restart, switches };
}
const moved = ({ device }: ReturnType<typeof bench>) => device.mechanics.demandCounts - liftWorld.startCounts;

describe('a closed-loop stepper', () => {
  it.each(switchTable.map((pulses, position) => [pulses, position] as const))(
    'with %i pulses a turn set by its switches counts increments × counts per turn / pulses per turn, to the last one',
    (pulses, position) => {
      const all = bench();
      all.switches(position);
      all.enable();
      const sent = [3 * pulses, 777, -1234, 5, -5, Math.min(10_001, 14 * pulses + 1)];
      all.host.parameters.write('maximumRate', 400_000);
      all.word('modeOfOperation', 0);
      let total = 0;
      for (const increments of sent) {
        all.host.burst(increments);
        total += increments;
        for (let k = 0; all.host.isRunning; k++) {
          all.pass(0.1);
          if (k > 600) throw new Error('the burst does not end');
        }
      }
      all.pass(0.05);
      // Exact rationals by hand: what is not a whole count yet is kept.
      expect(all.device.pulses.counted).toBe(total);
      expect(Math.abs(moved(all) - (total * 4000) / pulses)).toBeLessThan(1);
      all.host.burst(-total);
      for (let k = 0; all.host.isRunning && k < 600; k++) all.pass(0.1);
      all.pass(0.05);
      expect(moved(all)).toBe(0);
    },
  );

  it('takes the switches when power comes, and says what is in effect', () => {
    const { write, read, restart, registers } = bench();
    const set = () => (registers.read(address('pulsesPerTurn'), 2) as readonly number[])[1];
    expect(set()).toBe(400);
    write('switchPositions', 5);
    expect(set()).toBe(400);
    write('store', 0x65766173);
    restart();
    expect(set()).toBe(2000);
    expect(read('statusword') & 0x4f).toBe(0x40);
  });

  it('is enabled by its input alone, in the level it is set to; the bus moves nothing', () => {
    const { device, word, enable, read, write, restart } = bench();
    for (const command of [0x06, 0x07, 0x0f]) word('controlword', command);
    expect(device.isRunning).toBe(false);
    enable();
    expect(device.isRunning).toBe(true);
    expect(read('outputStates')).toBe(7);
    enable(false);
    expect(device.isRunning).toBe(false);
    write('enableActiveLevel', 0);
    write('store', 0x65766173);
    restart();
    // The wire that carries nothing enables now.
    enable(false);
    expect(device.isRunning).toBe(true);
  });

  it('holds against a push with just the torque that it takes, and corrects what is left', () => {
    const { device, enable, pass } = bench();
    enable();
    for (const push of [0, 0.8, -1]) {
      device.mechanics.push = push;
      pass(1);
      expect(Math.abs(device.mechanics.errorCounts)).toBeLessThan(2);
      // At rest the torques balance, up to the friction.
      const balance = device.mechanics.torque + push - liftWorld.gravityTorque;
      expect(Math.abs(balance)).toBeLessThanOrEqual(liftWorld.coulombFriction + 1e-6);
    }
  });

  it('pushed beyond its window trips; neither the bus nor its enable clears that, only power', () => {
    const { device, enable, pass, word, read, restart } = bench();
    enable();
    device.mechanics.push = 5;
    pass(0.02);
    device.mechanics.push = 0;
    pass(1);
    expect(read('statusword') & 0x4f).toBe(0x08);
    expect(read('errorCode')).toBe(0x8611);
    expect(read('outputStates')).toBe(0);
    word('controlword', 0);
    word('controlword', 0x80);
    enable(false);
    enable();
    expect(device.state).toBe('fault');
    enable(false);
    restart();
    expect(read('errorCode')).toBe(0);
    enable();
    expect(device.isRunning).toBe(true);
    expect(Math.abs(device.mechanics.errorCounts)).toBeLessThan(2);
  });

  it('too fast for its torque at speed falls behind and trips; at half of that it follows', () => {
    const run = (speed: number) => {
      const all = bench();
      all.switches(5);
      all.host.parameters.write('maximumRate', 400_000);
      for (const [key, value] of [
        ['stepsPerUnit', 200],
        ['speed', speed],
        ['acceleration', 4000],
      ] as const)
        all.host.parameters.write(key, 1000 * value);
      all.enable();
      all.host.moveBy(100);
      for (let k = 0; all.host.isRunning && k < 100; k++) all.pass(0.1);
      all.pass(0.3);
      return all;
    };
    const slow = run(80);
    expect(slow.device.state).toBe('operation enabled');
    expect(moved(slow)).toBe(40_000);
    expect(Math.abs(slow.device.mechanics.errorCounts)).toBeLessThan(5);
    expect(run(3000).device.state).toBe('fault');
  });
});
