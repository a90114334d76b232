import {
  moveSample,
  planMove,
  sampleMove,
  waitingSetPoint,
  type MoveLimits,
  type MoveProfile,
  type SetPointWait,
} from '@kavrid/core/motion';

const sample = moveSample();

/** An axis that a speed waits for; increments and s. */
export interface AxisAhead extends SetPointWait {
  readonly actualSpeed: number;
  /** Demanded less actual position. */
  readonly lead: number;
}

/** A sine of the speed whose frequency rises by equal ratios in equal times; increments and s. */
export interface SweepOrder {
  readonly from: number;
  readonly to: number;
  readonly seconds: number;
  /** Amplitudes at most, of speed and acceleration, and the way from end to end. */
  readonly speed: number;
  readonly acceleration: number;
  readonly travel: number;
}

/** Share of a sweep in which its amplitude comes up, and dies away. */
const sweepFade = 0.05;

/** The speed of a sweep at a time. */
function sweepSpeed({ from, to, seconds, speed, acceleration, travel }: SweepOrder, time: number): number {
  const share = time / seconds;
  const ratio = Math.log(to / from);
  const frequency = from * Math.exp(ratio * share);
  const phase = ((2 * Math.PI * from * seconds) / ratio) * (Math.exp(ratio * share) - 1);
  const pulsation = 2 * Math.PI * frequency;
  // A sine that begins at rest swings to one side: by twice its amplitude.
  const amplitude = Math.min(speed, acceleration / pulsation, (travel * pulsation) / 2);
  const fade = Math.min(1, share / sweepFade, (1 - share) / sweepFade);
  return amplitude * Math.max(0, fade) * Math.sin(phase);
}

/** The drive's own profile generator: gives command increments step by step. Units are increments and seconds. */
export class MotionGenerator {
  #sweep: SweepOrder | undefined;
  #sweepTime = 0;
  #move: MoveProfile | undefined;
  #moveTime = 0;
  #moveBase = 0;
  /** Where the command is, since the start of the device. */
  position = 0;
  speed = 0;
  #targetSpeed = 0;
  #acceleration = 1;
  #target = 0;

  get moving(): boolean {
    return this.#sweep !== undefined || this.#move !== undefined || this.speed !== 0 || this.#targetSpeed !== 0;
  }

  /** A move to a position is under way. */
  get isPlanned(): boolean {
    return this.#move !== undefined;
  }

  get atTarget(): boolean {
    return !this.moving && Math.abs(this.position - this.#target) < 1e-6;
  }

  /** A move to an absolute position, from rest; asked for in motion, it waits for nothing and is refused. */
  moveTo(target: number, limits: MoveLimits): boolean {
    if (this.moving) return false;
    this.#target = target;
    this.#moveBase = this.position;
    this.#moveTime = 0;
    this.#move = planMove(target - this.position, limits);
    return true;
  }

  get isSweeping(): boolean {
    return this.#sweep !== undefined;
  }

  /** Begins a sweep from standstill. @returns false in motion, and where it makes no sense */
  sweep(order: SweepOrder): boolean {
    const isSound = order.from > 0 && order.to > order.from && order.seconds > 0 && order.travel > 0;
    if (this.moving || !isSound) return false;
    this.#sweep = order;
    this.#sweepTime = 0;
    this.#target = NaN;
    return true;
  }

  /** Runs towards a speed with an acceleration; a move under way is given up. */
  run(speed: number, acceleration: number): void {
    this.#move = undefined;
    this.#sweep = undefined;
    this.#targetSpeed = speed;
    this.#acceleration = acceleration;
    this.#target = NaN;
  }

  /** Stands still at once: the motor is off. */
  freeze(): void {
    this.#move = undefined;
    this.#sweep = undefined;
    this.#targetSpeed = 0;
    this.speed = 0;
    this.#target = this.position;
  }

  /** @param wait what a speed waits for, in increments; absent: for nothing @returns the increments of this step. */
  advance(dt: number, wait?: AxisAhead): number {
    const before = this.position;
    if (this.#sweep) {
      this.#sweepTime += dt;
      const isOver = this.#sweepTime >= this.#sweep.seconds;
      this.speed = isOver ? 0 : sweepSpeed(this.#sweep, this.#sweepTime);
      this.position += this.speed * dt;
      if (isOver) this.#sweep = undefined;
    } else if (this.#move) {
      this.#moveTime += dt;
      sampleMove(this.#move, this.#moveTime, sample);
      this.position = this.#moveBase + sample.position;
      this.speed = sample.speed;
      if (this.#moveTime >= this.#move.duration) {
        this.#move = undefined;
        this.position = this.#target;
        this.speed = 0;
      }
    } else {
      const step = this.#acceleration * dt;
      const missing = this.#targetSpeed - this.speed;
      this.speed = Math.abs(missing) <= step ? this.#targetSpeed : this.speed + Math.sign(missing) * step;
      if (wait) this.speed = waitingSetPoint(this.speed, wait, wait.actualSpeed, wait.lead);
      this.position += this.speed * dt;
    }
    return this.position - before;
  }
}
