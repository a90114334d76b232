import { demandedMoves, type MoveChannels } from '../motion/index.ts';

/** A stored move to a position, by the pattern of the inputs that pick it. */
export interface WantedPick {
  readonly pattern: string;
  readonly target: number;
}

/** What a pick did: where the axis came to rest, and whose target that is. */
export interface JudgedPick extends WantedPick {
  /** undefined: it was not picked, or moved nothing */
  readonly reached: number | undefined;
  readonly verdict: 'reached' | 'another move' | 'elsewhere' | 'not seen';
  /** The pattern whose target was reached instead. */
  readonly instead?: string;
}

/**
 * Stored moves that were picked one after the other, in the order of their list, judged by where the axis came to rest. A pick whose target
 * is where the axis already stands moves nothing: where there are fewer moves than picks, it is passed over.
 * @param tolerance axis units within which a target counts as reached
 */
export function judgePicks(
  { demandPosition, actualPosition, period }: MoveChannels,
  picks: readonly WantedPick[],
  tolerance: number,
): readonly JudgedPick[] {
  const position = actualPosition.length > 0 ? actualPosition : demandPosition;
  const stretches = demandedMoves(demandPosition, period);
  const rests = stretches.map(({ to }, k) => position[(stretches[k + 1]?.from ?? position.length) - 1] ?? position[to]);
  let [next, stands] = [0, position[0] ?? NaN];
  return picks.map((pick, index): JudgedPick => {
    const isShort = rests.length - next < picks.length - index;
    if (isShort && Math.abs(pick.target - stands) <= tolerance) return { ...pick, reached: stands, verdict: 'reached' };
    const reached = rests[next++];
    if (reached === undefined) return { ...pick, reached, verdict: 'not seen' };
    stands = reached;
    if (Math.abs(reached - pick.target) <= tolerance) return { ...pick, reached, verdict: 'reached' };
    const other = picks.find(({ target }) => Math.abs(reached - target) <= tolerance);
    return other
      ? { ...pick, reached, verdict: 'another move', instead: other.pattern }
      : { ...pick, reached, verdict: 'elsewhere' };
  });
}
