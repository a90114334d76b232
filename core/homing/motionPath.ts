interface Piece {
  readonly time: number;
  readonly position: number;
  readonly speed: number;
  readonly acceleration: number;
}

/** Where an axis goes that follows commanded speeds within one acceleration: parabolas and straight lines, from time 0 at rest. */
export class MotionPath {
  readonly #acceleration: number;
  readonly #pieces: Piece[];

  constructor(start: number, acceleration: number) {
    this.#acceleration = acceleration;
    this.#pieces = [{ time: 0, position: start, speed: 0, acceleration: 0 }];
  }

  /** From `time` on, at least the time of the command before, `speed` is wanted. */
  command(time: number, speed: number): void {
    const now = this.at(time);
    while (this.#pieces.length > 1 && this.#last.time >= time) this.#pieces.pop();
    const change = speed - now.speed;
    const ramp = Math.abs(change) / this.#acceleration;
    if (ramp > 0) this.#pieces.push({ time, ...now, acceleration: Math.sign(change) * this.#acceleration });
    const position = now.position + ((now.speed + speed) / 2) * ramp;
    this.#pieces.push({ time: time + ramp, position, speed, acceleration: 0 });
  }

  /** Before time 0 it stands at the start. */
  at(time: number): { readonly position: number; readonly speed: number } {
    const { time: began, position, speed, acceleration } = this.#pieces[this.#indexAt(time)] ?? this.#last;
    const since = Math.max(0, time - began);
    return {
      position: position + (speed + (acceleration * since) / 2) * since,
      speed: speed + acceleration * since,
    };
  }

  /** When the speed last commanded is reached. */
  get settled(): number {
    return this.#last.time;
  }

  /** The first time after `time` at which the path comes to the position; undefined when it never does. */
  reaches(position: number, time: number): number | undefined {
    for (let k = this.#indexAt(time); k < this.#pieces.length; k++) {
      const piece = this.#pieces[k] as Piece;
      const end = this.#pieces[k + 1]?.time ?? Infinity;
      for (const since of sinceWhen(piece, position)) {
        const at = piece.time + since;
        if (at > time && at <= end) return at;
      }
    }
    return undefined;
  }

  get #last(): Piece {
    return this.#pieces[this.#pieces.length - 1] as Piece;
  }
  #indexAt(time: number): number {
    let k = this.#pieces.length - 1;
    while (k > 0 && (this.#pieces[k] as Piece).time > time) k--;
    return k;
  }
}

/** Times since the piece began at which it, were it endless, comes to the position; in order, none negative. */
function sinceWhen({ position: from, speed, acceleration }: Piece, position: number): readonly number[] {
  const distance = position - from;
  if (acceleration === 0) return distance * speed > 0 ? [distance / speed] : [];
  const squared = speed ** 2 + 2 * acceleration * distance;
  if (squared < 0) return [];
  // The sum that does not cancel first; the other root from the product of both.
  const sum = -(speed + (speed < 0 ? -1 : 1) * Math.sqrt(squared));
  const roots = sum === 0 ? [0] : [sum / acceleration, (-2 * distance) / sum];
  return roots.filter((root) => root > 0).sort((a, b) => a - b);
}
