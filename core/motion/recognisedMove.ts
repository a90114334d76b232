import type { DemandedMove } from './traceFigures.ts';

/** The trapezoidal move that a recorded demand is nearest to: distance, highest speed and acceleration; axis units, s. */
export interface RecognisedMove {
  readonly distance: number;
  readonly speed: number;
  readonly acceleration: number;
}

/**
 * Reads speed and acceleration of a move from its distance d, its time T and its highest speed v: a trapezoid takes T = d/v + v/a. Ramps
 * that are rounded come out as steep as a straight one of the same time. A demand that turns around within the stretch is none.
 */
export function recognisedMove(
  demand: Float64Array,
  { from, to }: DemandedMove,
  period: number,
): RecognisedMove | undefined {
  const distance = (demand[to] ?? 0) - (demand[from] ?? 0);
  const way = Math.abs(distance);
  const time = (to - from) * period;
  // Counts come in steps: over a few samples a speed is steady.
  const reach = Math.max(1, Math.min(5, Math.floor((to - from) / 10)));
  let [speed, travelled] = [0, 0];
  for (let k = from; k + reach <= to; k++)
    speed = Math.max(speed, Math.abs((demand[k + reach] ?? 0) - (demand[k] ?? 0)) / (reach * period));
  for (let k = from; k < to; k++) travelled += Math.abs((demand[k + 1] ?? 0) - (demand[k] ?? 0));
  if (!(way > 0) || !(speed > 0) || travelled > 1.02 * way) return undefined;
  const ramp = time - way / speed;
  return { distance, speed, acceleration: speed / Math.max(ramp, period) };
}
