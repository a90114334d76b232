import { traceChannelCount, traceDepth } from '@kavrid/core/drive';
import { describe, expect, it } from 'vitest';
import { ParameterStore } from './devices/parameterStore.ts';
import { MotionGenerator } from './devices/servo/motionGenerator.ts';
import { TraceMemory } from './devices/traceMemory.ts';
import { carriageWorld, makeServo, mapPath, readRegisterMap } from './index.ts';

const dt = 1 / 8000;

describe('motion generator', () => {
  const limits = { speed: 1000, acceleration: 10000, jerk: undefined };

  it('gives increments that add up to the target exactly, there and back', () => {
    const generator = new MotionGenerator();
    for (const target of [333.25, -50, 0]) {
      const before = generator.position;
      expect(generator.moveTo(target, limits)).toBe(true);
      let sum = 0;
      while (generator.moving) sum += generator.advance(dt);
      expect(before + sum).toBeCloseTo(target, 9);
      expect(generator.atTarget).toBe(true);
    }
  });

  it('refuses a new target in motion, and ramps a jog up and down within its acceleration', () => {
    const generator = new MotionGenerator();
    generator.run(400, 2000);
    expect(generator.moveTo(5, limits)).toBe(false);
    let last = 0;
    for (let k = 0; k < 8000 * 0.3; k++) {
      generator.advance(dt);
      expect(generator.speed - last).toBeLessThanOrEqual(2000 * dt + 1e-9);
      last = generator.speed;
    }
    expect(generator.speed).toBe(400);
    generator.run(0, 4000);
    for (let k = 0; k < 8000 * 0.11; k++) generator.advance(dt);
    expect(generator.moving).toBe(false);
    // v²/2a by hand: 40 up, 40 of cruise in 0.1 s, 20 down
    expect(generator.position).toBeCloseTo(100, 0);
  });

  it('stands still at once when frozen', () => {
    const generator = new MotionGenerator();
    generator.moveTo(1000, limits);
    for (let k = 0; k < 800; k++) generator.advance(dt);
    generator.freeze();
    expect(generator.advance(dt)).toBe(0);
    expect(generator.moving).toBe(false);
  });
});

describe('parameter store', () => {
  const { parameters } = readRegisterMap(mapPath('servo'));

  it('starts from what was kept, else from the factory', () => {
    expect(new ParameterStore(parameters, undefined).value('torqueLimit')).toBe(300);
    const kept = new ParameterStore(parameters, { values: { torqueLimit: 1500 }, storeCount: 4 });
    expect(kept.value('torqueLimit')).toBe(150);
    expect(kept.value('positionGain')).toBe(40);
    expect(kept.store().storeCount).toBe(5);
  });

  it('loses at a restart what was not stored', () => {
    const store = new ParameterStore(parameters, undefined);
    store.write('torqueLimit', 500);
    store.write('gearNumerator', 7);
    expect([store.value('torqueLimit'), store.value('gearNumerator')]).toEqual([50, 1]);
    store.restart();
    expect([store.value('torqueLimit'), store.value('gearNumerator')]).toEqual([300, 1]);
    expect(store.write('torqueLimit', 9999)).toBe(false);
    expect(store.write('nothing', 1)).toBe(false);
  });
});

describe('trace memory', () => {
  it('is a ring of words, high word first, that marks its trigger once', () => {
    const trace = new TraceMemory();
    trace.start();
    for (let k = 0; k < traceDepth + 2; k++) {
      if (k === 5 || k === 9) trace.mark();
      trace.record([k, -k, 0x12345678]);
    }
    expect(trace.trigger).toBe(5);
    // The third slot still holds sample 2; the first two have been written over.
    expect([trace.word(0), trace.word(1)]).toEqual([0, traceDepth]);
    const third = 2 * traceChannelCount * 2;
    expect([trace.word(third), trace.word(third + 1)]).toEqual([0, 2]);
    expect([trace.word(third + 2), trace.word(third + 3)]).toEqual([0xffff, 0xfffe]);
    expect([trace.word(third + 4), trace.word(third + 5)]).toEqual([0x1234, 0x5678]);
    trace.start();
    expect([trace.head, trace.trigger]).toEqual([0, undefined]);
  });
});

describe('registers of the device', () => {
  const map = readRegisterMap(mapPath('servo'));
  const at = (key: string) => map.registers.find((register) => register.key === key)?.address ?? NaN;
  const make = () => makeServo(carriageWorld);

  it('answer what the standard asks of unknown, read-only and out-of-range accesses', () => {
    const registers = make();
    expect(registers.read(13000, 2)).toBe('illegal address');
    expect(registers.write(at('statusword'), [1])).toBe('illegal address');
    expect(registers.write(at('modeOfOperation'), [77])).toBe('illegal value');
    expect(registers.write(at('profileVelocity'), [0, 0])).toBe('illegal value');
    expect(registers.write(at('tracePeriod'), [0])).toBe('illegal value');
    expect(registers.write(at('restart'), [2])).toBe('illegal value');
    expect(registers.read(at('modeDisplay'), 1)).toEqual([0]);
    const [status] = registers.read(at('statusword'), 1) as number[];
    expect((status ?? 0) & 0x4f).toBe(0x40);
  });

  it('bring back the factory copy, but not with the motor on', () => {
    const registers = make();
    registers.device.parameters.write('torqueLimit', 700);
    registers.device.parameters.write('commandSource', 1);
    for (const word of [6, 7, 15]) registers.write(at('controlword'), [word]);
    expect(registers.write(at('loadFactory'), [0x6461, 0x6f6c])).toBe('illegal value');
    registers.write(at('controlword'), [0]);
    expect(registers.write(at('loadFactory'), [0x6461, 0x6f6c])).toBeUndefined();
    expect(registers.device.parameters.value('torqueLimit')).toBe(300);
  });

  it('do not enable while the enable input is off', () => {
    const registers = make();
    registers.device.parameters.write('enableActiveLevel', 0);
    registers.write(at('store'), [0x6576, 0x6173]);
    registers.write(at('restart'), [1]);
    registers.device.advance(1);
    for (const word of [6, 7, 15]) registers.write(at('controlword'), [word]);
    expect(registers.device.state).toBe('switched on');
  });

  it('leave a motor alone whose commands come by pulses', () => {
    const registers = make();
    for (const word of [6, 7, 15]) registers.write(at('controlword'), [word]);
    registers.write(at('modeOfOperation'), [3]);
    registers.write(at('targetVelocity'), [10, 0]);
    registers.device.advance(0.1);
    expect(registers.device.mechanics.velocityCounts).toBe(0);
  });

  it('stop a jog in time before a soft limit once homed', () => {
    const registers = make();
    const { device } = registers;
    for (const [key, raw] of [
      ['homingMethod', 37],
      ['commandSource', 1],
      ['plusSoftLimit', 200000],
      ['followingErrorWindow', 5000000],
      // Tuned to its load, so that it does not swing.
      ['inertiaRatio', 1600],
    ] as const) {
      device.parameters.write(key, raw);
    }
    device.parametersChanged();
    const write = (key: string, high: number, low: number) => registers.write(at(key), [high, low]);
    for (const word of [6, 7, 15]) registers.write(at('controlword'), [word]);
    registers.write(at('modeOfOperation'), [6]);
    registers.write(at('controlword'), [0x1f]);
    expect(device.homed).toBe(true);
    registers.write(at('modeOfOperation'), [3]);
    write('profileAcceleration', 30, 0);
    write('profileDeceleration', 30, 0);
    write('targetVelocity', 4, 0);
    for (let k = 0; k < 200; k++) {
      registers.write(at('heartbeat'), [1]);
      device.advance(0.02);
    }
    expect(Math.abs(device.mechanics.velocityCounts)).toBe(0);
    expect(device.mechanics.positionCounts).toBeGreaterThan(150000);
    expect(device.mechanics.positionCounts).toBeLessThan(205000);
  });
});
