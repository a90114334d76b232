import { demandedMoves, type MoveChannels } from '../motion/index.ts';

/**
 * A recording of a trial of gains, apart: there and back with the planned gains, there and back with those of the trial. Both begin as long
 * before their first move; undefined: the trial did not come to its end.
 */
export function trialHalves(
  channels: MoveChannels,
): { readonly before: MoveChannels; readonly after: MoveChannels } | undefined {
  const { period, demandPosition } = channels;
  const moves = demandedMoves(demandPosition, period);
  const [first, , third] = moves;
  if (moves.length !== 4 || !first || !third) return undefined;
  const lead = Math.min(first.from, Math.round(leadTime / period));
  const [from, middle] = [first.from - lead, third.from - lead];
  const part = (start: number, end: number): MoveChannels => ({
    period,
    demandPosition: demandPosition.subarray(start, end),
    actualPosition: channels.actualPosition.subarray(start, end),
    actualSpeed: channels.actualSpeed.subarray(start, end),
    followingError: channels.followingError.subarray(start, end),
    torque: channels.torque.subarray(start, end),
  });
  // The first half ends before the gains were written.
  const second = moves[1]?.to ?? middle;
  const rest = Math.round(restTime / period);
  return {
    before: part(from, Math.min(middle, second + rest)),
    after: part(middle, Math.min(demandPosition.length, (moves[3]?.to ?? middle) + rest)),
  };
}

/** s that are shown before the first move of each half, and after its last one: a trial rests for 0.5 s at least. */
const [leadTime, restTime] = [0.05, 0.45];
