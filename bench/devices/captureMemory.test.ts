import { describe, expect, it } from 'vitest';
import { carriageWorld } from '../world/demoCell.ts';
import { captureDepth, CaptureMemory, capturePage, captureStates } from './captureMemory.ts';
import { mapPath, readRegisterMap } from './registerMap.ts';
import { makeServo } from './servo/servoDevice.ts';

const value = (memory: CaptureMemory, sample: number, channel = 0) => {
  memory.page = Math.floor(sample / capturePage);
  const at = (sample % capturePage) * 8 + 2 * channel;
  return (memory.word(at) << 16) | memory.word(at + 1);
};
/** Feeds it so many samples of a ramp: channel 1 is minus channel 0. */
const feed = (memory: CaptureMemory, from: number, to: number) => {
  for (let k = from; k < to; k++) if (memory.isDue()) memory.record([k, -k, 7 * k]);
};

describe('the recording in the memory of a drive', () => {
  it('holds 131 072 samples of four channels and ends when it is full', () => {
    const memory = new CaptureMemory();
    memory.settings.channels = [0, 1, 2, 0];
    memory.start();
    feed(memory, 0, captureDepth + 100);
    expect([memory.state, memory.count, memory.triggerSample]).toEqual([captureStates.complete, captureDepth, 0]);
    for (const k of [1, 511, 512, 70_000, captureDepth - 1])
      expect([0, 1, 2, 3].map((channel) => value(memory, k, channel))).toEqual([k, -k, 7 * k, k]);
    // The last page is whole, and beyond it there is none.
    memory.page = captureDepth / capturePage;
    expect(memory.word(0)).toBe(0);
  });

  it.each([
    ['above', 1000, 1001],
    ['rising', 1000, 1001],
    ['below', 400, 300],
    ['falling', 1500, undefined],
  ] as const)('%s the level of %i: begins at sample value %s, with 300 from before it', (trigger, level, first) => {
    const memory = new CaptureMemory();
    Object.assign(memory.settings, { trigger, level, before: 300 });
    memory.start();
    feed(memory, 0, 2000);
    if (first === undefined) return expect(memory.state).toBe(captureStates.waiting);
    memory.stop();
    expect(memory.triggerSample).toBe(300);
    // What is below from the start triggers as soon as the samples before it are there.
    expect(value(memory, 300)).toBe(first);
    expect(value(memory, 0)).toBe(first - 300);
    return undefined;
  });

  it('is set, started and read page by page over the registers that the drive publishes', () => {
    const registers = makeServo(carriageWorld);
    const { device } = registers;
    const map = readRegisterMap(mapPath('servo'));
    const at = (key: string) => map.registers.find((each) => each.key === key)?.address ?? NaN;
    const word = (key: string, ...words: number[]) => registers.write(at(key), words);
    expect(word('captureChannel1', 8)).toBe('illegal value');
    expect([word('captureChannel1', 5), word('captureTrigger', 5), word('capturePreTrigger', 0, 80)]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
    expect(word('captureRun', 1)).toBeUndefined();
    expect(word('capturePeriod', 2)).toBe('illegal value');
    device.advance(0.1);
    expect(registers.read(at('captureState'), 1)).toEqual([captureStates.waiting]);
    device.parameters.write('commandSource', 1);
    registers.write(at('modeOfOperation'), [3]);
    for (const control of [6, 7, 15]) device.control(control);
    registers.write(at('profileAcceleration'), [0x4c, 0x4b40]);
    registers.write(at('targetVelocity'), [16, 0]);
    for (let t = 0; t < 0.1; t += 0.02) {
      registers.write(at('heartbeat'), [1]);
      device.advance(0.02);
    }
    expect(registers.read(at('captureState'), 1)).toEqual([captureStates.triggered]);
    word('captureRun', 0);
    expect(registers.read(at('captureTriggerSample'), 2)).toEqual([0, 80]);
    expect(word('capturePage', 256)).toBe('illegal value');
    expect(word('capturePage', 0)).toBeUndefined();
    // Torque at rest before the trigger, and not some samples after it.
    const samples = (from: number, count: number) => {
      const words = registers.read(at('captureMemory') + from * 8, count * 8) as readonly number[];
      return Array.from({ length: count }, (_, k) => ((words[8 * k] ?? 0) << 16) | (words[8 * k + 1] ?? 0));
    };
    expect(samples(0, 15)).toEqual(Array.from({ length: 15 }, () => 0));
    expect(Math.max(...samples(300, 15).map(Math.abs))).toBeGreaterThan(5);
  });
});
