import { cycleTime, type LineAddress } from './deviceAddress.ts';

/** ms throughout. */
export interface SessionTiming {
  /** Between two looks at the drive, and between two heartbeats. */
  readonly poll: number;
  readonly beat: number;
  /** Between two looks at what is only shown. */
  readonly show: number;
  /** A status whose request is older than this is unknown, and ends motion. */
  readonly stale: number;
  /** Without a sign of life from the window that holds the axis: while a key is held, and otherwise. */
  readonly silentJogging: number;
  readonly silentOtherwise: number;
  /** Between two tries of a stop that has not been seen to work. */
  readonly stopAgain: number;
  /** What a drive may take longer over a ramp than planned, before a quick stop follows. */
  readonly rampGrace: number;
  /** Between two attempts to connect. */
  readonly reconnect: number;
  /** A link that no window watches is closed after this. */
  readonly unwatched: number;
  /** Wall clock against steady clock: more apart than this, the computer has slept. */
  readonly sleep: number;
  /** Times what an answer over a serial line may take. */
  readonly serialPatience: number;
}

export const sessionTiming: SessionTiming = {
  poll: 25,
  beat: 40,
  show: 250,
  stale: 200,
  silentJogging: 400,
  silentOtherwise: 1500,
  stopAgain: 50,
  rampGrace: 500,
  reconnect: 500,
  unwatched: 10_000,
  sleep: 1000,
  serialPatience: 1,
};

/** Over a serial line a round takes its time: looks and signs of life follow one another no faster than they can be carried. */
export function timingOver(
  address: LineAddress,
  blocks: readonly { readonly words: number }[],
  given: SessionTiming,
): SessionTiming {
  const round = 1000 * cycleTime(address, blocks);
  return {
    ...given,
    poll: Math.max(given.poll, round),
    beat: Math.max(given.beat, round),
    stale: Math.max(given.stale, 4 * round),
    stopAgain: Math.max(given.stopAgain, round),
  };
}

/** For tests on a busy computer: everything that a stall could trip waits longer, and nothing else changes. */
export const patientTiming = (factor: number): SessionTiming => ({
  ...sessionTiming,
  stale: sessionTiming.stale * factor,
  silentJogging: sessionTiming.silentJogging * factor,
  silentOtherwise: sessionTiming.silentOtherwise * factor,
  rampGrace: sessionTiming.rampGrace * factor,
  sleep: sessionTiming.sleep * factor,
  serialPatience: sessionTiming.serialPatience * factor,
});
