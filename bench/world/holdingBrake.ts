/** A spring-applied holding brake on the motor shaft; N·m and s. */
export interface BrakeWorld {
  readonly torque: number;
  /** From current in its coil until it is open, and from none until it holds. */
  readonly releaseDelay: number;
  readonly engageDelay: number;
}

/** What can be wrong with it. */
export type BrakeTrouble = 'stays shut' | 'stays open' | 'slips';

/** Share of its torque that a worn brake has left. */
const worn = 0.03;

/** The brake of a motor, held open by the current in its coil. */
export class HoldingBrake {
  trouble: BrakeTrouble | undefined;
  readonly #world: BrakeWorld;
  #isOpen = false;
  #changingFor = 0;

  constructor(world: BrakeWorld) {
    this.#world = world;
  }

  /** Lets time pass. @param isFed current flows in its coil @returns whether it holds otherwise than before */
  advance(isFed: boolean, seconds: number): boolean {
    if (isFed === this.#isOpen) {
      this.#changingFor = 0;
      return false;
    }
    this.#changingFor += seconds;
    if (this.#changingFor < (isFed ? this.#world.releaseDelay : this.#world.engageDelay)) return false;
    this.#isOpen = isFed;
    this.#changingFor = 0;
    return true;
  }

  /** N·m with which it holds the shaft now. */
  get torque(): number {
    switch (this.trouble) {
      case 'stays shut':
        return this.#world.torque;
      case 'stays open':
        return 0;
      case 'slips':
        return this.#isOpen ? 0 : worn * this.#world.torque;
      case undefined:
        return this.#isOpen ? 0 : this.#world.torque;
    }
  }
}
