import { demandedMoves, type MoveChannels } from '../motion/index.ts';

/** What one demanded move did; axis units, s. */
export interface MoveMeasures {
  /** s at which its demand begins and comes to rest. */
  readonly from: number;
  readonly to: number;
  /** Signed. */
  readonly distance: number;
  /** s in which the actual position goes from 10 % to 90 % of the distance; undefined: it never gets there. */
  readonly riseTime: number | undefined;
  /** Beyond the target in the direction of the move. */
  readonly overshoot: number;
  /** s from the end of the demand until the error stays within the window to the next move; undefined: it does not. */
  readonly settlingTime: number | undefined;
  /** NaN where the following error was not recorded. The largest following errors while the speed rises or falls, at the speed, and the one at the end of the rest; 0 where a move has no such part. */
  readonly errorAccelerating: number;
  readonly errorAtSpeed: number;
  readonly errorAtStop: number;
  /** The highest measured speed; NaN where none was recorded. */
  readonly peakSpeed: number;
}

/** A speed counts as reached within so much of the highest demanded. */
const atSpeedShare = 0.01;

/** Measures every demanded move separately. @param window axis units within which the axis counts as in position */
export function moveMeasures(channels: MoveChannels, window: number): readonly MoveMeasures[] {
  const { period, demandPosition } = channels;
  const moves = demandedMoves(demandPosition, period);
  return moves.map(({ from, to }, index) =>
    measureMove(channels, window, from, to, moves[index + 1]?.from ?? demandPosition.length - 1),
  );
}

function measureMove(
  { period, demandPosition, actualPosition, actualSpeed, followingError }: MoveChannels,
  window: number,
  from: number,
  to: number,
  restEnd: number,
): MoveMeasures {
  const hasError = followingError.length > 0;
  const demand = (k: number) => demandPosition[k] ?? 0;
  const distance = demand(to) - demand(from);
  const direction = distance < 0 ? -1 : 1;
  // Counts come in steps: over four samples a speed is steady.
  const reach = Math.max(1, Math.min(4, Math.floor((to - from) / 8)));
  const speed = (k: number) =>
    Math.abs(demand(Math.min(to, k + reach)) - demand(Math.max(from, k - reach))) /
    ((Math.min(to, k + reach) - Math.max(from, k - reach)) * period);
  let top = 0;
  for (let k = from; k <= to; k++) top = Math.max(top, speed(k));
  let [errorAccelerating, errorAtSpeed, overshoot, peakSpeed] = [0, 0, 0, 0];
  for (let k = from; k <= to; k++) {
    const error = Math.abs(followingError[k] ?? 0);
    if (Number.isNaN(error)) continue;
    if (speed(k) >= (1 - atSpeedShare) * top) errorAtSpeed = Math.max(errorAtSpeed, error);
    else errorAccelerating = Math.max(errorAccelerating, error);
  }
  let lastOutside = to;
  for (let k = from; k <= restEnd; k++) {
    const [position, error] = [actualPosition[k] ?? NaN, followingError[k] ?? NaN];
    const measured = Math.abs(actualSpeed[k] ?? 0);
    if (measured > peakSpeed) peakSpeed = measured;
    if (k >= to && direction * (position - demand(to)) > overshoot) overshoot = direction * (position - demand(to));
    if (k >= to && Math.abs(error) > window) lastOutside = k + 1;
  }
  return {
    from: from * period,
    to: to * period,
    distance,
    riseTime: riseTime(actualPosition, demand(from), distance, from, restEnd, period),
    overshoot,
    settlingTime: !hasError || lastOutside > restEnd ? undefined : (lastOutside - to) * period,
    errorAccelerating: hasError ? errorAccelerating : NaN,
    errorAtSpeed: hasError ? errorAtSpeed : NaN,
    errorAtStop: followingError[restEnd] ?? NaN,
    peakSpeed: actualSpeed.length > 0 ? peakSpeed : NaN,
  };
}

function riseTime(
  position: Float64Array,
  start: number,
  distance: number,
  from: number,
  end: number,
  period: number,
): number | undefined {
  /** Sample, interpolated, at which a share of the way is gone. */
  const reached = (share: number): number | undefined => {
    for (let k = from + 1; k <= end; k++) {
      const [before, now] = [((position[k - 1] ?? NaN) - start) / distance, ((position[k] ?? NaN) - start) / distance];
      if (before < share && now >= share) return k - (now - share) / (now - before);
    }
    return undefined;
  };
  const [low, high] = [reached(0.1), reached(0.9)];
  return low === undefined || high === undefined ? undefined : (high - low) * period;
}
