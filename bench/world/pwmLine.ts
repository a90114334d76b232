/** A line that carries a duty cycle from a controller to a drive. */
export class PwmLine {
  /** Share of the period for which the sender is on; undefined: it sends no pulses at all. */
  sent: number | undefined;
  isBroken = false;

  /** What arrives: no edge can be seen on a broken line, nor of a level that never changes. */
  get duty(): number | undefined {
    return this.isBroken || this.sent === undefined || this.sent <= 0 || this.sent >= 1 ? undefined : this.sent;
  }
}
