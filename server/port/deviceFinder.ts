import type { FoundDevices, SearchOrder } from '@kavrid/contract';
import { reasonOf } from '../reasonOf.ts';
import type { Lines } from './lines.ts';
import type { Transport, TransportAnswer } from './transport.ts';

/** ms that a device may take to answer over TCP; over a serial line its line says */
const tcpTime = 300;
/** Read of each address, and of nothing else: the register that every map begins with or refuses. */
const probe = { kind: 'read', address: 0, words: 1, function: 3 } as const;

/**
 * Looks which addresses answer on a line, at the baud rates that are allowed. It only reads, and has the line for itself.
 * @param tell called with how far it is
 */
export async function findDevices(
  lines: Lines,
  { link, bauds, from, to }: SearchOrder,
  signal: AbortSignal,
  tell: (found: FoundDevices) => void,
): Promise<void> {
  const addresses = link.kind === 'tcp' ? [link] : bauds.map((baud) => ({ ...link, baud }));
  const total = addresses.length * (to - from + 1);
  const devices: FoundDevices['devices'][number][] = [];
  let done = 0;
  const say = (more: Partial<FoundDevices> = {}) => tell({ isRunning: true, done, total, devices, ...more });
  say();
  try {
    for (const address of addresses) {
      const borrowed = await lines.borrow(address, signal);
      try {
        for (let unit = from; unit <= to && !signal.aborted; unit++) {
          const answer = await ask(borrowed.transport, unit);
          done++;
          if (answer) devices.push({ unit, ...(address.kind === 'serial' ? { baud: address.baud } : {}), answer });
          say({ devices: [...devices] });
        }
      } finally {
        borrowed.giveBack();
      }
      if (signal.aborted) break;
    }
    say({ isRunning: false, devices: [...devices] });
  } catch (error) {
    say({ isRunning: false, devices: [...devices], because: reasonOf(error) });
  }
}

/** Codes by which a gateway says that nobody is there (Application Protocol V1.1b3, 7). */
const nobody: readonly number[] = [0, 10, 11];

/** What an address answers; undefined: nothing. */
async function ask(transport: Transport, unit: number): Promise<'a value' | 'an exception' | undefined> {
  await new Promise<void>((ready) => (transport.isReady ? ready() : transport.onReady(ready)));
  const answer = await new Promise<TransportAnswer | undefined>((settle) => {
    const time = transport.isHalfDuplex ? transport.answerTime(probe) : tcpTime;
    const timer = setTimeout(() => {
      transport.giveUp();
      settle(undefined);
    }, time);
    transport.send(unit, probe, (given) => {
      clearTimeout(timer);
      settle(given);
    });
  });
  if (answer?.kind === 'answered') return 'a value';
  return answer && !nobody.includes(answer.code) ? 'an exception' : undefined;
}
