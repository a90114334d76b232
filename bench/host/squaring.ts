/** What the second side of a pair shows while it is squared. */
export interface SquaringInputs {
  /** Its own switch is on. */
  readonly isOn: boolean;
  /** Its own limit in the direction of motion is on. */
  readonly isAtLimit: boolean;
}

type Phase = 'onto' | 'off' | 'place' | 'square' | 'failed';

/**
 * After the first side of a pair has homed by leaving a switch, the second alone is moved onto its own switch, off it at creep speed, and
 * to where both are square. Lengths in steps.
 */
export class Squaring {
  readonly #cross: 1 | -1;
  readonly #creep: number;
  /** How far the first side stands beyond its edge, and how far the second then has to stand beyond its own. */
  readonly #beyond: number;
  readonly #limit: number;
  #phase: Phase;
  /** Steps that the second side alone was moved, and where its edge was in them. */
  #moved = 0;
  #edge = 0;

  /** @param limit the most that it may be moved to become square */
  constructor(options: {
    readonly cross: 1 | -1;
    readonly creep: number;
    readonly beyond: number;
    readonly limit: number;
    readonly isOn: boolean;
  }) {
    this.#cross = options.cross;
    this.#creep = options.creep;
    this.#beyond = options.beyond;
    this.#limit = options.limit;
    this.#phase = options.isOn ? 'off' : 'onto';
  }

  get phase(): Phase {
    return this.#phase;
  }
  /** Steps that the second side was off before it was squared: as far as it has been moved, the other way. */
  get skew(): number {
    return -this.#moved;
  }

  /** A look at the switch, once a millisecond. */
  look({ isOn, isAtLimit }: SquaringInputs): void {
    const isFar = Math.abs(this.#moved) > this.#limit + Math.abs(this.#beyond) + this.#creep;
    if (this.#phase === 'onto' && isOn) this.#phase = 'off';
    else if (this.#phase === 'off' && !isOn) {
      this.#edge = this.#moved;
      this.#phase = Math.abs(this.#target) > this.#limit ? 'failed' : 'place';
    } else if ((this.#phase === 'onto' || this.#phase === 'off') && (isFar || (isAtLimit && !isOn)))
      this.#phase = 'failed';
  }

  /** Where the second side has to be, in steps from where it began. */
  get #target(): number {
    return this.#edge + this.#beyond;
  }

  /** Steps that the second side alone goes in this moment. @param seconds since the last */
  step(seconds: number): number {
    const most = this.#creep * seconds;
    const by =
      this.#phase === 'onto'
        ? -this.#cross * most
        : this.#phase === 'off'
          ? this.#cross * most
          : this.#phase === 'place'
            ? Math.max(-most, Math.min(most, this.#target - this.#moved))
            : 0;
    this.#moved += by;
    if (this.#phase === 'place' && this.#moved === this.#target) this.#phase = 'square';
    return by;
  }
}
