import { moveSample, planMove, sampleMove, type MoveLimits, type MoveProfile } from '@kavrid/core/motion';

const sample = moveSample();

/** The drive's own profile generator: gives command increments step by step. Units are increments and seconds. */
export class MotionGenerator {
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
    return this.#move !== undefined || this.speed !== 0 || this.#targetSpeed !== 0;
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

  /** Runs towards a speed with an acceleration; a move under way is given up. */
  run(speed: number, acceleration: number): void {
    this.#move = undefined;
    this.#targetSpeed = speed;
    this.#acceleration = acceleration;
    this.#target = NaN;
  }

  /** Stands still at once: the motor is off. */
  freeze(): void {
    this.#move = undefined;
    this.#targetSpeed = 0;
    this.speed = 0;
    this.#target = this.position;
  }

  /** @returns the increments of this step. */
  advance(dt: number): number {
    const before = this.position;
    if (this.#move) {
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
      this.position += this.speed * dt;
    }
    return this.position - before;
  }
}
