/** A stretch of a path: position, speed and acceleration at its time, and the jerk along it. */
export interface PathPiece {
  readonly time: number;
  readonly position: number;
  readonly speed: number;
  readonly acceleration: number;
  readonly jerk: number;
}

export interface PathPoint {
  readonly position: number;
  readonly speed: number;
  readonly acceleration: number;
}

/**
 * Where an axis goes that follows commanded speeds within one acceleration, and within one jerk where it has one: pieces of cubic
 * parabolas, parabolas and straight lines, from time 0 at rest.
 */
export class MotionPath {
  readonly #acceleration: number;
  readonly #jerk: number | undefined;
  readonly #pieces: PathPiece[];

  constructor(start: number, acceleration: number, jerk?: number) {
    this.#acceleration = acceleration;
    this.#jerk = jerk;
    this.#pieces = [{ time: 0, position: start, speed: 0, acceleration: 0, jerk: 0 }];
  }

  /** In the order of their time; the last has no end. */
  get pieces(): readonly PathPiece[] {
    return this.#pieces;
  }

  /** From `time` on, at least the time of the command before, `speed` is wanted. */
  command(time: number, speed: number): void {
    const now = this.at(time);
    this.#cut(time);
    const change = speed - now.speed;
    if (this.#jerk !== undefined) this.#ramp(time, now, speed, this.#jerk);
    else
      this.#add({ time, ...now, acceleration: Math.sign(change) * this.#acceleration, jerk: 0 }, [
        Math.abs(change) / this.#acceleration,
      ]);
    const end = this.at(this.#last.time);
    this.#last = { time: this.#last.time, position: end.position, speed, acceleration: 0, jerk: 0 };
  }

  /** The axis runs against something at `time` and stands there. */
  block(time: number): void {
    const { position } = this.at(time);
    this.#cut(time);
    this.#add({ time, position, speed: 0, acceleration: 0, jerk: 0 }, []);
  }

  /** From acceleration to the greatest that is needed, along it, and back to none; from the equations of constant jerk. */
  #ramp(time: number, { position, speed, acceleration }: PathPoint, wanted: number, jerk: number): void {
    const sense = Math.sign(wanted - (speed + (acceleration * Math.abs(acceleration)) / (2 * jerk)));
    const way = sense || -Math.sign(acceleration) || 1;
    const change = wanted - speed;
    const peak = Math.min(this.#acceleration, Math.sqrt(Math.max(0, way * jerk * change + acceleration ** 2 / 2)));
    const along = Math.max(0, (change - (2 * peak ** 2 - acceleration ** 2) / (2 * way * jerk)) / (way * peak || 1));
    const rise = Math.max(0, (peak - way * acceleration) / jerk);
    this.#add({ time, position, speed, acceleration, jerk: way * jerk }, [rise]);
    this.#then(0, along);
    this.#then(-way * jerk, peak / jerk);
  }

  /** A piece that goes on from the end of the last one. */
  #then(jerk: number, seconds: number): void {
    const { time } = this.#last;
    this.#last = { time, ...this.at(time), jerk };
    this.#add(this.#last, [seconds]);
  }

  /** @param ends s after its time at which the piece is over; without one it has no end */
  #add(piece: PathPiece, ends: readonly number[]): void {
    if (this.#last.time === piece.time) this.#pieces.pop();
    this.#pieces.push(piece);
    for (const seconds of ends)
      if (seconds > 0) this.#pieces.push({ time: piece.time + seconds, ...pointOf(piece, seconds), jerk: 0 });
  }

  /** What was planned from `time` on does not count any more. */
  #cut(time: number): void {
    while (this.#pieces.length > 1 && this.#last.time >= time) this.#pieces.pop();
  }

  /** Before time 0 it stands at the start. */
  at(time: number): PathPoint {
    const piece = this.#pieces[this.#indexAt(time)] ?? this.#last;
    return pointOf(piece, Math.max(0, time - piece.time));
  }

  /** When the speed last commanded is reached. */
  get settled(): number {
    return this.#last.time;
  }

  /** The first time after `time` at which the path comes to the position; undefined when it never does. */
  reaches(position: number, time: number): number | undefined {
    for (let k = this.#indexAt(time); k < this.#pieces.length; k++) {
      const piece = this.#pieces[k] as PathPiece;
      const next = this.#pieces[k + 1];
      const seconds = next ? next.time - piece.time : endless;
      const turn = piece.jerk === 0 ? turnOf(piece) : undefined;
      const parts = piece.jerk === 0 ? undefined : standsAt(piece);
      let from = 0;
      let before = piece.position - position;
      // Told by the signs at the ends of monotonous parts, so that an arrival at the end of a piece is not lost to rounding.
      for (let n = 0; from < seconds; n++) {
        const inner = parts ? parts.find((each) => each > from && each < seconds) : n === 0 ? turn : undefined;
        const to = inner !== undefined && inner > from && inner < seconds ? inner : seconds;
        const after = (to === seconds && next ? next.position : positionAt(piece, to)) - position;
        if (before !== 0 && before * after <= 0) {
          const since = parts ? bisected(piece, position, from, to) : solved(piece, position, from, to);
          const at = next ? Math.min(piece.time + since, next.time) : piece.time + since;
          if (at > time) return at;
        }
        [from, before] = [to, after];
      }
    }
    return undefined;
  }

  /** The lowest and the highest position up to a time, and the way there. */
  extent(until: number): { readonly lowest: number; readonly highest: number; readonly travelled: number } {
    let [lowest, highest, travelled] = [Infinity, -Infinity, 0];
    for (const [k, piece] of this.#pieces.entries()) {
      const seconds = Math.min(this.#pieces[k + 1]?.time ?? until, until) - piece.time;
      if (seconds < 0) break;
      const turns = standsAt(piece).filter((each) => each > 0 && each < seconds);
      const points = [0, ...turns, seconds].map((each) => pointOf(piece, each).position);
      points.forEach((each, p) => {
        [lowest, highest] = [Math.min(lowest, each), Math.max(highest, each)];
        travelled += p === 0 ? 0 : Math.abs(each - (points[p - 1] ?? each));
      });
    }
    return { lowest, highest, travelled };
  }

  get #last(): PathPiece {
    return this.#pieces[this.#pieces.length - 1] as PathPiece;
  }
  set #last(piece: PathPiece) {
    this.#pieces[this.#pieces.length - 1] = piece;
  }
  #indexAt(time: number): number {
    let k = this.#pieces.length - 1;
    while (k > 0 && (this.#pieces[k] as PathPiece).time > time) k--;
    return k;
  }
}

const pointOf = ({ position, speed, acceleration, jerk }: PathPiece, since: number): PathPoint => ({
  position: position + (speed + (acceleration / 2 + (jerk * since) / 6) * since) * since,
  speed: speed + (acceleration + (jerk * since) / 2) * since,
  acceleration: acceleration + jerk * since,
});

/** Times since the piece began at which its speed is zero. */
function standsAt({ speed, acceleration, jerk }: PathPiece): readonly number[] {
  return roots(jerk / 2, acceleration, speed);
}

/** Real roots of a·t² + b·t + c, in order; the sum that does not cancel first. */
function roots(a: number, b: number, c: number): readonly number[] {
  if (a === 0) return b === 0 ? [] : [-c / b];
  const squared = b ** 2 - 4 * a * c;
  if (squared < 0) return [];
  const sum = -(b + (b < 0 ? -1 : 1) * Math.sqrt(squared)) / 2;
  const found = sum === 0 ? [0] : [sum / a, c / sum];
  return found.sort((x, y) => x - y);
}

/** s: longer than any homing */
const endless = 1e9;

const positionAt = ({ position, speed, acceleration, jerk }: PathPiece, since: number): number =>
  position + (speed + (acceleration / 2 + (jerk * since) / 6) * since) * since;

/** When the speed of a parabola is zero. */
const turnOf = ({ speed, acceleration }: PathPiece): number | undefined =>
  acceleration === 0 ? undefined : -speed / acceleration;

/** Where a parabola comes to a position within a stretch on which it does so once. */
function solved(piece: PathPiece, position: number, from: number, to: number): number {
  const found = roots(piece.acceleration / 2, piece.speed, piece.position - position);
  let best = to;
  for (const root of found) {
    const near = Math.min(to, Math.max(from, root));
    if (Math.abs(positionAt(piece, near) - position) < Math.abs(positionAt(piece, best) - position)) best = near;
  }
  return best;
}

/** The same of a cubic parabola, by halving. */
function bisected(piece: PathPiece, position: number, from: number, to: number): number {
  let [low, high] = [from, to];
  const isRising = positionAt(piece, from) < position;
  for (let k = 0; k < 80; k++) {
    const middle = (low + high) / 2;
    if (positionAt(piece, middle) < position === isRising) low = middle;
    else high = middle;
  }
  return high;
}
