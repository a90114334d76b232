import { add, divide, exact, multiply, negate, type Exact } from '../quantity/index.ts';

/** This signal means this value. */
export interface ScalePoint {
  /** V, mA or % duty */
  readonly signal: Exact;
  /** What it commands, in the unit of its meaning. */
  readonly value: Exact;
}

/** A straight line through two points whose signals differ. */
export interface TwoPointScale {
  readonly from: ScalePoint;
  readonly to: ScalePoint;
}

const subtract = (a: Exact, b: Exact): Exact => add(a, negate(b));

/** Value for one unit of signal: (b − a) / (B − A); negative where the signal is inverted. */
export const gainOf = ({ from, to }: TwoPointScale): Exact =>
  divide(subtract(to.value, from.value), subtract(to.signal, from.signal));

/** What a signal means. */
export const valueAt = (scale: TwoPointScale, signal: Exact): Exact =>
  add(scale.from.value, multiply(subtract(signal, scale.from.signal), gainOf(scale)));

/** The signal that means a value. */
export const signalAt = (scale: TwoPointScale, value: Exact): Exact =>
  add(scale.from.signal, divide(subtract(value, scale.from.value), gainOf(scale)));

/** The signal that means nothing: no speed, no torque, the zero of the position. */
export const zeroSignal = (scale: TwoPointScale): Exact => signalAt(scale, exact(0));
