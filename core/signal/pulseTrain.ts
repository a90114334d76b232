import type { MoveProfile, Segment } from '../motion/index.ts';

/**
 * The moments at which a move crosses its increments: increment k falls where the move has gone (k − ½) increments, so that
 * the command is never more than half an increment from the plan. One number at a time, in constant memory.
 */
export class PulseTrain {
  readonly count: number;
  readonly #segments: readonly Segment[];
  readonly #stepsPerUnit: number;
  readonly #sign: number;

  /** @throws RangeError when a pulse train cannot be made of these. */
  constructor(profile: MoveProfile, stepsPerUnit: number) {
    if (!(stepsPerUnit > 0 && Number.isFinite(stepsPerUnit)))
      throw new RangeError('Steps per unit must be more than 0.');
    this.#segments = profile.segments;
    this.#stepsPerUnit = stepsPerUnit;
    this.#sign = profile.distance < 0 ? -1 : 1;
    this.count = Math.round(Math.abs(profile.distance) * stepsPerUnit);
  }

  /** The increment that comes first at or after a time: 1 for the first one, `count + 1` when there is none. */
  firstAfter(time: number): number {
    const last = this.#segments.at(-1);
    if (!last || time > last.start + last.duration) return this.count + 1;
    const segment = this.#segments.findLast((each) => each.start <= time) ?? this.#segments[0];
    if (!segment || time <= 0) return 1;
    const gone = this.#sign * positionIn(segment, time - segment.start) * this.#stepsPerUnit;
    return Math.min(this.count + 1, Math.max(1, Math.ceil(gone + 0.5 - 1e-9)));
  }

  /** Calls back with each increment of a range and its time in s, in their order, until it answers false. */
  each(from: number, to: number, visit: (increment: number, time: number) => boolean): void {
    let index = 0;
    let offset = 0;
    for (let k = from; k <= Math.min(to, this.count); k++) {
      const target = (k - 0.5) / this.#stepsPerUnit;
      let segment = this.#segments[index];
      while (segment && index < this.#segments.length - 1) {
        const next = this.#segments[index + 1] as Segment;
        if (this.#sign * next.position > target) break;
        segment = next;
        index++;
        offset = 0;
      }
      if (!segment) return;
      offset = this.#timeOf(segment, target, offset);
      if (!visit(k, segment.start + offset)) return;
    }
  }

  /** Straight or by a root where nothing jerks; else Newton's method from the increment before, kept between bounds. */
  #timeOf(segment: Segment, target: number, after: number): number {
    const sign = this.#sign;
    const rest = target - sign * segment.position;
    const speed0 = sign * segment.speed;
    const half = 0.5 * sign * segment.acceleration;
    if (segment.jerk === 0) {
      if (half === 0) return rest / speed0;
      const root = Math.sqrt(Math.max(0, speed0 * speed0 + 4 * half * rest));
      // Written so that nothing cancels.
      return (2 * rest) / (speed0 + root);
    }
    const sixth = (sign * segment.jerk) / 6;
    let [low, high] = [after, segment.duration];
    let t = after;
    for (let round = 0; round < 60; round++) {
      const error = (speed0 + (half + sixth * t) * t) * t - rest;
      if (error > 0) high = t;
      else low = t;
      const speed = speed0 + (2 * half + 3 * sixth * t) * t;
      let next = t - error / speed;
      if (!(next > low && next < high)) next = 0.5 * (low + high);
      if (Math.abs(next - t) < 1e-12) return next;
      t = next;
    }
    return t;
  }
}

const positionIn = (s: Segment, t: number): number =>
  s.position + (s.speed + (0.5 * s.acceleration + (s.jerk * t) / 6) * t) * t;
