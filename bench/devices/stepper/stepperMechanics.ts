/** The mechanics that a closed-loop stepper is bolted to, at its shaft; SI, counts. */
export interface StepperWorld {
  readonly countsPerRevolution: number;
  /** Rotor with all that it turns. */
  readonly inertia: number;
  readonly coulombFriction: number;
  readonly viscousFriction: number;
  /** Pulls towards minus where it is positive. */
  readonly gravityTorque: number;
  readonly ratedTorque: number;
  /** At rest; at `cornerSpeed` (rad/s) half of it is left. */
  readonly holdingTorque: number;
  readonly cornerSpeed: number;
  /** Counts from which each limit switch is struck. */
  readonly minusLimit: number;
  readonly plusLimit: number;
  /** Counts between which the home switch is on. */
  readonly homeSwitch: { readonly from: number; readonly to: number };
  readonly startCounts: number;
}

/** A quarter of an electrical period of a motor of 50 pole pairs: there the torque of a stepper is at its highest. */
const quarterPeriod = (2 * Math.PI) / 50 / 4;
const damping = 0.8;
/** s in which what stands at rest is corrected by the encoder */
const correctionTime = 0.03;
/** s over which the speed of the demand is averaged */
const demandTime = 0.003;

/**
 * A stepping motor with an encoder: it pulls towards its demand like a spring, as strongly as its speed lets it, and corrects what
 * is left. Integrated by semi-implicit Euler.
 */
export class StepperMechanics {
  readonly world: StepperWorld;
  readonly #radiansPerCount: number;
  readonly #dt: number;
  /** Counts; the demand is exact. */
  demandCounts: number;
  positionCounts: number;
  /** rad/s */
  speed = 0;
  torque = 0;
  isOn = false;
  /** Share of the torque that the current allows. */
  current = 1;
  /** N·m from outside: a hand at the shaft. */
  push = 0;
  /** Times the friction: 1 where nothing sticks. */
  friction = 1;
  /** A hand at the shaft of a motor that is off: it turns it on by so many turns, half a turn a second towards plus, and then holds it. */
  hand: { turnsLeft: number } | undefined;
  #demandSpeed = 0;
  #corrected = 0;

  constructor(world: StepperWorld, stepRate: number) {
    this.world = world;
    this.#dt = 1 / stepRate;
    this.#radiansPerCount = (2 * Math.PI) / world.countsPerRevolution;
    this.demandCounts = world.startCounts;
    this.positionCounts = world.startCounts;
  }

  get errorCounts(): number {
    return this.demandCounts - this.positionCounts;
  }
  get speedCounts(): number {
    return this.speed / this.#radiansPerCount;
  }

  switchOn(): void {
    this.isOn = true;
    this.demandCounts = this.positionCounts;
    this.#demandSpeed = 0;
    this.#corrected = 0;
  }
  switchOff(): void {
    this.isOn = false;
    this.torque = 0;
  }

  /** One step, with the counts that the demand goes on in it. */
  step(counts: number): void {
    const { inertia, holdingTorque } = this.world;
    if (this.isOn) {
      this.demandCounts += counts;
      const rate = (counts * this.#radiansPerCount) / this.#dt;
      this.#demandSpeed += (rate - this.#demandSpeed) * Math.min(1, this.#dt / demandTime);
      const stiffness = holdingTorque / quarterPeriod;
      const error = this.errorCounts * this.#radiansPerCount;
      const loss = 2 * damping * Math.sqrt(stiffness * inertia) * (this.#demandSpeed - this.speed);
      this.#corrected += ((stiffness * error) / correctionTime) * this.#dt;
      const most = this.#mostTorque;
      this.#corrected = clamp(this.#corrected, most);
      this.torque = clamp(stiffness * error + loss + this.#corrected, most);
    }
    this.#move();
  }

  get #mostTorque(): number {
    const { holdingTorque, cornerSpeed } = this.world;
    return (this.current * holdingTorque) / (1 + Math.abs(this.speed) / cornerSpeed);
  }

  #move(): void {
    const { inertia, coulombFriction, viscousFriction, gravityTorque } = this.world;
    if (this.hand && !this.isOn) {
      this.speed = this.hand.turnsLeft > 0 ? Math.PI : 0;
      this.hand.turnsLeft -= (this.speed * this.#dt) / (2 * Math.PI);
      this.positionCounts += (this.speed * this.#dt) / this.#radiansPerCount;
      return;
    }
    const driving = this.torque + this.push - gravityTorque - viscousFriction * this.speed;
    const free = this.speed + (driving / inertia) * this.#dt;
    const brake = ((this.friction * coulombFriction) / inertia) * this.#dt;
    // Friction takes away speed, and never turns it round.
    this.speed = Math.abs(free) <= brake ? 0 : free - Math.sign(free) * brake;
    this.positionCounts += (this.speed * this.#dt) / this.#radiansPerCount;
  }
}

const clamp = (value: number, most: number): number => Math.min(most, Math.max(-most, value));
