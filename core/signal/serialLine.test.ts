import { describe, expect, it } from 'vitest';
import {
  busLoad,
  characterTime,
  exchangeTime,
  frameLengths,
  isElevenBits,
  lostLink,
  silence,
  type SerialLine,
} from './index.ts';

const line = (baud: number, parity: SerialLine['parity'] = 'even', stopBits: 1 | 2 = 1): SerialLine => ({
  baud,
  parity,
  stopBits,
});

describe('a serial line by Modbus over Serial Line V1.02', () => {
  it('eleven bits a character, 1.75 ms of silence above 19 200 baud, 3.5 characters below', () => {
    expect(characterTime(line(9600))).toBeCloseTo(11 / 9600, 12);
    expect([line(9600), line(9600, 'none', 2), line(9600, 'none', 1), line(9600, 'odd', 2)].map(isElevenBits)).toEqual([
      true,
      true,
      false,
      false,
    ]);
    expect(silence(line(9600))).toBeCloseTo(0.00401, 5);
    expect(silence(line(19200))).toBeCloseTo(0.002005, 6);
    expect(silence(line(38400))).toBe(0.00175);
    expect(silence(line(115200))).toBe(0.00175);
  });

  it('frames as long as the application protocol V1.1b3 makes them, with address and CRC', () => {
    expect(frameLengths({ functionCode: 3, registers: 10, answerDelay: 0 })).toEqual([8, 25]);
    expect(frameLengths({ functionCode: 6, registers: 1, answerDelay: 0 })).toEqual([8, 8]);
    expect(frameLengths({ functionCode: 16, registers: 2, answerDelay: 0 })).toEqual([13, 8]);
  });

  it('an exchange by hand: 9600 baud, two registers read, 5 ms to answer', () => {
    // (8 + 9) · 11 / 9600 + 2 · 3.5 · 11 / 9600 + 5 ms = 19.48 + 8.02 + 5 ms
    const message = { functionCode: 3, registers: 2, answerDelay: 0.005 } as const;
    expect(exchangeTime(line(9600), message)).toBeCloseTo(0.0325, 4);
    expect(busLoad(line(9600), [message], 0.025)).toMatchObject({ isPossible: false });
  });

  it('polled every 25 ms, the time-out is above 30 ms (common practice)', () => {
    const messages = [
      { functionCode: 3, registers: 4, answerDelay: 0.002 },
      { functionCode: 6, registers: 1, answerDelay: 0.002 },
    ] as const;
    const load = busLoad(line(38400), messages, 0.025);
    expect(load.isPossible).toBe(true);
    expect(load.load).toBeCloseTo(load.round / 0.025, 12);
    expect(load.leastTimeOut).toBeGreaterThan(0.03);
    expect(busLoad(line(1200), messages, 0.025).leastTimeOut).toBeGreaterThan(
      busLoad(line(1200), messages, 0.025).round,
    );
  });

  it('a lost link costs the turns of its time-out and half of those of the ramp', () => {
    // 3000 rpm are 50 a second: 0.1 s at full speed and 2 s of ramp
    expect(lostLink(3000, 0.1, 2)).toEqual({ time: 2.1, turns: expect.closeTo(55, 9) });
  });
});
