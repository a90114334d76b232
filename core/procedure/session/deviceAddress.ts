import { characterTime, exchangeTime, frameLengths, type SerialLine } from '../../signal/index.ts';

/** A line that devices are reached by: a TCP connection, or a serial port with its settings. */
export type LineAddress =
  | { readonly kind: 'tcp'; readonly host: string; readonly port: number }
  | ({ readonly kind: 'serial'; readonly path: string } & SerialLine);

/** Where a device is reached. */
export type DeviceAddress = LineAddress & { readonly unit: number };

/** What tells one line from another. A serial port is one line, whatever its settings. */
export const lineText = (address: LineAddress): string =>
  address.kind === 'tcp' ? `${address.host}:${address.port}` : address.path;

export const addressText = (address: DeviceAddress): string => `${lineText(address)}/${address.unit}`;

/** The settings of a line in words: what another user of it has to agree with. */
export const lineSettings = (address: LineAddress): string =>
  address.kind === 'tcp'
    ? lineText(address)
    : `${address.path}, ${address.baud} baud, parity ${address.parity}, ${address.stopBits} stop bit${address.stopBits === 1 ? '' : 's'}`;

/** s that any one request may keep a serial line: a stop waits for no more than that and its answer. */
const longestExchange = 0.04;
const mostWords = 125;

/** Most registers that are read at once over a line. */
export function longestRead(address: LineAddress): number {
  if (address.kind === 'tcp') return mostWords;
  const characters = Math.floor(longestExchange / characterTime(address));
  const [request, answer] = frameLengths({ functionCode: 3, registers: 0, answerDelay: 0 });
  return Math.max(2, Math.min(mostWords, Math.floor((characters - request - answer) / 2)));
}

/** s that a device on a serial line may take before it answers, with the 16 ms that an adapter may hold bytes back, each way. */
const deviceTime = 0.02 + 2 * 0.016;

/**
 * s that one round over a serial line takes at most: one look at the drive, in its blocks of registers, and one heartbeat.
 * 0 for a TCP connection, whose time does not depend on what is sent.
 */
export const cycleTime = (address: LineAddress, blocks: readonly { readonly words: number }[]): number =>
  address.kind === 'tcp'
    ? 0
    : [
        ...blocks.map(({ words }) => ({ functionCode: 3 as const, registers: words, answerDelay: deviceTime })),
        { functionCode: 6 as const, registers: 1, answerDelay: deviceTime },
      ].reduce((sum, message) => sum + exchangeTime(address, message), 0);
