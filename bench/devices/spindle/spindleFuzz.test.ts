import fc from 'fast-check';
import { deviceState } from '@kavrid/core/drive';
import { describe, expect, it } from 'vitest';
import { grinderWorld, makeSpindle, mapPath, readRegisterMap } from '../../index.ts';

const map = readRegisterMap(mapPath('spindle'));
const addresses = [...map.registers, ...map.parameters].map(({ address }) => address);

describe('whatever a client sends', () => {
  it('the device answers, stays in a state of the standard, and its numbers stay numbers', () => {
    const step = fc.record({
      address: fc.oneof(fc.constantFrom(...addresses), fc.integer({ min: 0, max: 65535 })),
      words: fc.array(
        fc.oneof(fc.constantFrom(0, 1, 2, 6, 7, 15, 0x80, 0x080f, 5000), fc.integer({ min: 0, max: 65535 })),
        {
          minLength: 1,
          maxLength: 3,
        },
      ),
      pause: fc.integer({ min: 0, max: 40 }),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const registers = makeSpindle(grinderWorld);
        const { device } = registers;
        for (const { address, words, pause } of steps) {
          const answer = registers.write(address, words);
          expect([undefined, 'illegal address', 'illegal value', 'busy']).toContain(answer);
          device.advance(pause / 100);
          expect(deviceState(device.statusword)).toBe(device.state);
          for (const value of [device.outputHertz, device.speed, device.motorCurrent, device.torque, device.busVolts])
            expect(Number.isFinite(value)).toBe(true);
          // No more than the highest frequency that can be set, and no bus beyond what a stop can bring.
          expect(Math.abs(device.outputHertz)).toBeLessThanOrEqual(40000);
          expect(device.busVolts).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('a parameter keeps what it takes, and takes nothing outside its range', () => {
    const registers = makeSpindle(grinderWorld);
    for (const { address, key, minimum, maximum, waitsForRestart, running } of map.parameters) {
      expect(registers.write(address, [maximum]), key).toBeUndefined();
      expect(registers.read(address, 1), key).toEqual([maximum]);
      if (!waitsForRestart) expect(registers.read(running, 1), key).toEqual([maximum]);
      if (maximum < 65535) expect(registers.write(address, [maximum + 1]), key).toBe('illegal value');
      if (minimum > 0) expect(registers.write(address, [minimum - 1]), key).toBe('illegal value');
      expect(registers.write(address, [minimum]), key).toBeUndefined();
    }
  });
});
