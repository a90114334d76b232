import { readBlocks, type DriveProfile, type RegisterBlock } from '../../drive/index.ts';
import { cycleTime, longestRead, type DeviceAddress } from './deviceAddress.ts';
import type { SessionState } from './sessionState.ts';
import { statusKeys } from './turn.ts';

/** The requests of one look at a drive over its line. */
export function statusBlocks(
  state: SessionState,
  profile: DriveProfile,
  address: DeviceAddress,
): readonly RegisterBlock[] {
  const registers = statusKeys({ ...state, profile }).flatMap((key) => profile.registers[key] ?? []);
  return readBlocks(registers, undefined, longestRead(address));
}

/** Share of the watchdog time that a round over the line may take. */
const mostOfWatchdog = 1 / 3;

/** Why the line is too slow for a motor to be switched on over it; undefined: it is fast enough. */
export function lineTooSlow(state: SessionState): string | undefined {
  const { address, profile, watchdog } = state;
  if (address?.kind !== 'serial' || !profile) return undefined;
  const round = 1000 * cycleTime(address, statusBlocks(state, profile, address));
  if (watchdog !== undefined && round <= watchdog * mostOfWatchdog) return undefined;
  const needed = Math.ceil(round / mostOfWatchdog);
  return `One round over this serial line takes up to ${Math.ceil(round)} ms at ${address.baud} baud, and has to fit into the watchdog time three times. ${
    watchdog === undefined ? 'The watchdog time of the drive is not known.' : `The watchdog is set to ${watchdog} ms.`
  } Set it to ${needed} ms or more, or use a higher baud rate.`;
}
