/** A potentiometer between the drive's reference and its 0 V, its wiper on the analog input. */
export interface Potentiometer {
  /** Ω from end to end */
  readonly resistance: number;
  /** Share of the turn at each end where the wiper stands on the end itself; 0 … 0.2 */
  readonly deadEnd: number;
  /** V and A that the drive's reference gives */
  readonly referenceVoltage: number;
  readonly referenceCurrent: number;
  /** Ω of the drive's input */
  readonly inputResistance: number;
}

export interface PotentiometerResult {
  /** A that the potentiometer takes from the reference, at its wiper's worst place */
  readonly current: number;
  readonly isTooMuch: boolean;
  /** V by which the wiper sags most under the input, against a straight line, and where it does, 0 … 1 */
  readonly worstSag: number;
  readonly sagAt: number;
  /** Share of the turn that changes anything. */
  readonly effectiveTurn: number;
  /** Ω, the least that the reference can feed */
  readonly leastResistance: number;
}

/**
 * V = Vref · x / (1 + x·(1 − x)·R/Rin): a divider loaded by the input (common textbook formula).
 * A pot of 4.7 to 10 kΩ is common practice.
 */
export const wiperVoltage = ({ resistance, referenceVoltage, inputResistance }: Potentiometer, x: number): number =>
  (referenceVoltage * x) / (1 + (x * (1 - x) * resistance) / inputResistance);

export function potentiometerResult(pot: Potentiometer): PotentiometerResult {
  const { resistance, deadEnd, referenceVoltage, referenceCurrent, inputResistance } = pot;
  // At its upper end the input stands in parallel with the whole track.
  const current = referenceVoltage / resistance + referenceVoltage / inputResistance;
  let [worstSag, sagAt] = [0, 0];
  for (let k = 1; k < 1000; k++) {
    const sag = (referenceVoltage * k) / 1000 - wiperVoltage(pot, k / 1000);
    if (sag > worstSag) [worstSag, sagAt] = [sag, k / 1000];
  }
  const left = referenceCurrent - referenceVoltage / inputResistance;
  return {
    current,
    isTooMuch: current > referenceCurrent,
    worstSag,
    sagAt,
    effectiveTurn: 1 - 2 * deadEnd,
    leastResistance: left > 0 ? referenceVoltage / left : Infinity,
  };
}
