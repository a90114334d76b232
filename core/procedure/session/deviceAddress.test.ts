import { describe, expect, it } from 'vitest';
import { addressText, cycleTime, isNearHost, longestRead, sessionTiming, type LineAddress } from './index.ts';
import { timingOver } from './sessionTiming.ts';

const serial = (baud: number): LineAddress => ({
  kind: 'serial',
  path: '/dev/ttyUSB0',
  baud,
  parity: 'even',
  stopBits: 1,
});
const tcp: LineAddress = { kind: 'tcp', host: '10.0.0.5', port: 502 };

describe('the line to a device', () => {
  it('is told by host and port, or by its port alone: other settings of a serial port are the same line', () => {
    expect(addressText({ ...tcp, unit: 3 })).toBe('10.0.0.5:502/3');
    expect(addressText({ ...serial(9600), unit: 3 })).toBe(addressText({ ...serial(19200), unit: 3 }));
  });

  it('no read keeps a serial line for longer than 40 ms, by hand', () => {
    // 9600 baud: 11 bits are 1.146 ms, 34 characters in 40 ms, 13 of them are frame: 10 registers.
    expect(longestRead(serial(9600))).toBe(10);
    expect(longestRead(serial(115200))).toBe(125);
    expect(longestRead(serial(1200))).toBe(2);
    expect(longestRead(tcp)).toBe(125);
  });

  it('a round takes every block of a look and a heartbeat, and looks follow no faster', () => {
    // 19 200 baud: (8 + 25) + (8 + 8) characters of 0.573 ms, 4 silences of 2.005 ms, 2 · 52 ms for device and adapter.
    const round = cycleTime(serial(19200), [{ words: 10 }]);
    expect(1000 * round).toBeCloseTo(49 * 0.57292 + 4 * 2.00521 + 104, 1);
    expect(cycleTime(tcp, [{ words: 10 }])).toBe(0);
    expect(timingOver(tcp, [{ words: 10 }], sessionTiming)).toEqual(sessionTiming);
    const slow = timingOver(serial(19200), [{ words: 10 }], sessionTiming);
    expect(slow.poll).toBeCloseTo(1000 * round, 9);
    expect(slow.stale).toBeGreaterThan(3 * slow.poll);
    expect(slow.silentJogging).toBe(sessionTiming.silentJogging);
  });

  it.each([
    ['127.0.0.1', true],
    ['127.255.0.9', true],
    ['localhost', true],
    ['10.200.3.4', true],
    ['172.16.0.1', true],
    ['172.31.255.255', true],
    ['172.32.0.1', false],
    ['192.168.7.7', true],
    ['192.169.0.1', false],
    ['169.254.1.1', true],
    ['8.8.4.4', false],
    ['10.0.0', false],
    ['10.0.0.256', false],
    ['drive.example', false],
    ['localhost.example', false],
    ['::1', true],
    ['fd12:3456::1', true],
    ['fe80::1', true],
    ['2001:db8::1', false],
  ])('%s: near %s (RFC 1122, 1918, 3927, 4193, 4291)', (host, near) => expect(isNearHost(host)).toBe(near));
});
