/** What can be wrong with a pair of wires that carries a voltage. */
export interface AnalogTrouble {
  isBroken: boolean;
  /** The two wires are exchanged. */
  isReversed: boolean;
  /** V that drift and a bad common reference add. */
  offset: number;
}

/** A pair of wires that carries a voltage from a controller to a drive, of ±10 V. */
export class AnalogLine {
  /** V at the output of the controller. */
  sent = 0;
  readonly trouble: AnalogTrouble = { isBroken: false, isReversed: false, offset: 0 };

  /** V at the input of the drive; an input that is open reads 0. */
  get volts(): number {
    const { isBroken, isReversed, offset } = this.trouble;
    if (isBroken) return 0;
    return Math.max(-10, Math.min(10, (isReversed ? -1 : 1) * this.sent + offset));
  }
}
