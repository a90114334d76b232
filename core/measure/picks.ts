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
  readonly verdict: 'reached' | 'other inputs' | 'another move' | 'elsewhere' | 'not seen';
  /** The pattern that arrived, or whose target was reached, instead. */
  readonly instead?: string;
}

/**
 * Stored moves that were picked one after the other, in the order of their list, judged by where the axis came to rest. A pick whose target
 * is where the axis already stands moves nothing: where there are fewer moves than picks, it is passed over.
 * @param tolerance axis units within which a target counts as reached
 * @param arrived the pattern at the inputs of the drive, sample by sample, the first input as the lowest bit; undefined: not recorded
 */
export function judgePicks(
  { demandPosition, actualPosition, period }: MoveChannels,
  picks: readonly WantedPick[],
  tolerance: number,
  arrived?: Float64Array,
): readonly JudgedPick[] {
  const position = actualPosition.length > 0 ? actualPosition : demandPosition;
  const stretches = demandedMoves(demandPosition, period);
  const rests = stretches.map(({ to }, k) => position[(stretches[k + 1]?.from ?? position.length) - 1] ?? position[to]);
  let [next, stands] = [0, position[0] ?? NaN];
  return picks.map((pick, index): JudgedPick => {
    const isShort = rests.length - next < picks.length - index;
    if (isShort && Math.abs(pick.target - stands) <= tolerance) return { ...pick, reached: stands, verdict: 'reached' };
    const reached = rests[next];
    const pattern = patternAt(arrived, stretches[next++]?.from, pick.pattern.length);
    if (reached === undefined) return { ...pick, reached, verdict: 'not seen' };
    stands = reached;
    if (pattern !== undefined && pattern !== pick.pattern)
      return { ...pick, reached, verdict: 'other inputs', instead: pattern };
    if (Math.abs(reached - pick.target) <= tolerance) return { ...pick, reached, verdict: 'reached' };
    const other = picks.find(({ target }) => Math.abs(reached - target) <= tolerance);
    return other
      ? { ...pick, reached, verdict: 'another move', instead: other.pattern }
      : { ...pick, reached, verdict: 'elsewhere' };
  });
}

/** The pattern at a sample, the first input first. */
function patternAt(arrived: Float64Array | undefined, sample = NaN, inputs: number): string | undefined {
  const value = arrived?.[sample];
  if (value === undefined || Number.isNaN(value)) return undefined;
  return Array.from({ length: inputs }, (_, k) => (value >> k) & 1).join('');
}
