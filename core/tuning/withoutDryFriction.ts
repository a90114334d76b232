/** A torque with what dry friction takes taken away. */
export interface FrictionlessTorque {
  readonly torque: Float64Array;
  /** Taken away while it moves, in the unit of the torque. */
  readonly friction: number;
}

/** Samples to each side over which a speed is differenced. */
const reach = 2;
/** Share of the highest speed below which the direction of friction is not sure. */
const surely = 0.03;

/**
 * Dry friction turns with the direction, which no frequency response describes: it makes an inertia look damped. It is found by least
 * squares of the torque over acceleration and direction, and taken away in the direction of the speed; none where it comes out negative.
 */
export function withoutDryFriction(torque: Float64Array, speed: Float64Array, period: number): FrictionlessTorque {
  const top = speed.reduce((most, each) => (Math.abs(each) > most ? Math.abs(each) : most), 0);
  let [aa, as, ss, au, su] = [0, 0, 0, 0, 0];
  for (let k = reach; k + reach < speed.length; k++) {
    const [v, u] = [speed[k] ?? NaN, torque[k] ?? NaN];
    const a = ((speed[k + reach] ?? NaN) - (speed[k - reach] ?? NaN)) / (2 * reach * period);
    if (!(Math.abs(v) > surely * top) || Number.isNaN(a) || Number.isNaN(u)) continue;
    const s = Math.sign(v);
    aa += a * a;
    as += a * s;
    ss += 1;
    au += a * u;
    su += s * u;
  }
  const determinant = aa * ss - as * as;
  const friction = determinant > 0 ? Math.max(0, (su * aa - au * as) / determinant) : 0;
  return { friction, torque: torque.map((u, k) => u - friction * directionAt(speed, k, surely * top)) };
}

/** −1 … 1: through zero it goes straight, so that noise at rest makes no friction. */
const directionAt = (speed: Float64Array, k: number, width: number): number =>
  width > 0 ? Math.max(-1, Math.min(1, (speed[k] ?? 0) / width)) : 0;
