import type { HomingFailure } from './homingFailure.ts';
import { homingMethodFacts, type HomingDefinition, type HomingInput, type HomingMethodFacts } from './homingMethod.ts';
import { homingInputWords, startHoming, stepHoming, type HomingInputs, type HomingPhase } from './homingSequence.ts';
import { MotionPath, type PathPiece } from './motionPath.ts';

/** The axis and its switches. Positions and lengths in the unit of the definition. */
export interface HomingWorld {
  readonly start: number;
  /** The minus limit is on up to here; without one none comes. */
  readonly minusEdge?: number;
  /** The plus limit is on from here. */
  readonly plusEdge?: number;
  /** The home switch is on from here to there; on an endless axis it comes again after so much. */
  readonly homeSwitch?: {
    readonly from: number;
    readonly to: number;
    readonly every?: number;
    /** A second flag of the same length switches it on from here. */
    readonly secondFrom?: number;
  };
  /** Where the axis cannot go on. */
  readonly minusStop?: number;
  readonly plusStop?: number;
  /** Travel between two index pulses, and the position of any one of them. */
  readonly indexSpacing: number;
  readonly indexAt: number;
  /** s between two looks at the inputs. */
  readonly scanPeriod: number;
  /** s for which an input has to be steady before it counts; 0 when left out. */
  readonly debounce?: number;
  /** A switch that is on goes off so much farther out; 0 when left out. */
  readonly hysteresis?: number;
  /** s by which the axis follows its command: (1 − feedforward)/position gain; 0 when left out. */
  readonly lag?: number;
  /** Units/s³ of the ramps; absent: they begin at once. */
  readonly jerk?: number;
  /** s from a hard stop until it is recognised; 0 when left out. */
  readonly blockTime?: number;
}

export interface HomingLeg {
  readonly phase: HomingPhase;
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly seconds: number;
}

export interface HomingPrediction {
  readonly legs: readonly HomingLeg[];
  readonly seconds: number;
  /** The latched point, in the coordinates of the world; where it failed, the place it stopped at. */
  readonly home: number;
  /** Where the axis comes to rest, and what the position then reads. */
  readonly rest: number;
  readonly reads: number;
  /** How far the axis runs past the edge at which a search ends: the room a limit needs, the length of a home switch. */
  readonly overrun: number;
  /** The lowest and the highest position on the way, and the way itself. */
  readonly lowest: number;
  readonly highest: number;
  readonly travelled: number;
  /** The edge after which the index pulse is awaited, or which counts itself; absent: none was crossed. */
  readonly crossed?: number;
  /** With an index: travel from the edge to its first pulse; near 0 or near the spacing is a gamble of one turn. */
  readonly indexMargin?: number;
  /** Why it does not come to its end. */
  readonly because?: string;
  readonly failure?: HomingFailure;
  /** The path of the axis, as it would go on. */
  readonly path: readonly PathPiece[];
}

/** More changes of inputs than any homing has. */
const mostLooks = 2000;

/** A switch in the world: it comes on between `from` and `to`, and goes off `hysteresis` farther out. */
class WorldSwitch {
  readonly input: HomingInput;
  readonly #from: number;
  readonly #to: number;
  readonly #every: number | undefined;
  readonly #hysteresis: number;
  isOn = false;

  constructor(input: HomingInput, [from, to]: readonly [number, number], hysteresis: number, every?: number) {
    this.input = input;
    this.#from = from;
    this.#to = to;
    this.#every = every;
    this.#hysteresis = hysteresis;
  }

  look(position: number): void {
    const margin = this.isOn ? this.#hysteresis : 0;
    const turns = this.#turnsAt(position);
    this.isOn = [turns, turns + 1].some((k) => {
      const shift = k * (this.#every ?? 0);
      return position >= this.#from + shift - margin && position <= this.#to + shift + margin;
    });
  }

  /** Where it changes next to a position: the edges around it. */
  edges(position: number): readonly number[] {
    const margin = this.isOn ? this.#hysteresis : 0;
    const turns = this.#turnsAt(position);
    const near = this.#every === undefined ? [0] : [turns - 1, turns, turns + 1];
    return near
      .flatMap((k) => [this.#from + k * (this.#every ?? 0) - margin, this.#to + k * (this.#every ?? 0) + margin])
      .filter(Number.isFinite);
  }

  #turnsAt(position: number): number {
    return this.#every === undefined ? 0 : Math.floor((position - this.#from) / this.#every);
  }
}

function switchesOf({ minusEdge, plusEdge, homeSwitch, hysteresis = 0 }: HomingWorld): readonly WorldSwitch[] {
  return [
    ...(minusEdge === undefined ? [] : [new WorldSwitch('minusLimit', [-Infinity, minusEdge], hysteresis)]),
    ...(plusEdge === undefined ? [] : [new WorldSwitch('plusLimit', [plusEdge, Infinity], hysteresis)]),
    ...(homeSwitch
      ? [
          new WorldSwitch('homeSwitch', [homeSwitch.from, homeSwitch.to], hysteresis, homeSwitch.every),
          ...secondFlag(homeSwitch).map((range) => new WorldSwitch('homeSwitch', range, hysteresis, homeSwitch.every)),
        ]
      : []),
  ];
}

/** The range of a second flag; none: there is one alone. */
export const secondFlag = ({
  from,
  to,
  secondFrom,
}: NonNullable<HomingWorld['homeSwitch']>): readonly (readonly [from: number, to: number])[] =>
  secondFrom === undefined ? [] : [[secondFrom, secondFrom + to - from]];

/**
 * Where a homing goes and how long it takes: {@link stepHoming} on an axis that follows its ramps, looked at whenever an input
 * changes. `late` is how long after an edge the drive looks at it, at most one scan; debouncing is added.
 */
export function predictHoming(
  definition: HomingDefinition,
  world: HomingWorld,
  late: { readonly search: number; readonly cross: number } = {
    search: world.scanPeriod / 2,
    cross: world.scanPeriod / 2,
  },
): HomingPrediction {
  const { method, positionAtHome } = definition;
  const facts = homingMethodFacts(method);
  const { lag = 0, debounce = 0, blockTime = 0, minusStop = -Infinity, plusStop = Infinity } = world;
  const tiny = 1e-9 * world.indexSpacing;
  const path = new MotionPath(world.start, definition.acceleration, world.jerk);
  const switches = switchesOf(world);
  let indexPulses = 0;
  let indexPosition = 0;
  let commanded = 0;
  let isBlocked = false;
  let lean = 0;

  /** What the drive knows of the moment: `position` is where the axis is; the command may be ahead of it. */
  function inputsAt(seen: number): HomingInputs {
    const { position, speed } = path.at(seen);
    // At an edge, the side to which the axis moves, is about to, or has come.
    lean = Math.sign(speed || commanded) || lean;
    const beside = position + lean * 1e-11 * (Math.abs(position) + world.indexSpacing);
    for (const each of switches) each.look(beside);
    const isOn = (input: HomingInput) => switches.some((each) => each.input === input && each.isOn);
    return {
      minusLimit: isOn('minusLimit'),
      plusLimit: isOn('plusLimit'),
      homeSwitch: isOn('homeSwitch'),
      position,
      standsStill: commanded === 0 && seen >= path.settled,
      indexPulses,
      indexPosition,
      isBlocked,
      seconds: seen,
    };
  }

  const legs: HomingLeg[] = [];
  let leg = { phase: 'search' as HomingPhase, from: world.start, began: 0 };
  let [edge, overrun] = [world.start, 0];
  /** The edges at which the search ended and the switch was crossed. */
  let met = world.start;
  let crossed: number | undefined;
  /** Time of the axis, and of the command, which is `lag` later. */
  let [seen, now] = [0, 0];
  let state = startHoming(definition, inputsAt(0));
  leg = { ...leg, phase: state.phase };

  for (let looks = 0; looks < mostLooks; looks++) {
    for (let isNew = true; isNew;) {
      const inputs = inputsAt(seen);
      const { phase } = state;
      const step = stepHoming(definition, state, inputs);
      isNew = step.speed !== commanded || step.state.phase !== phase;
      if (step.speed !== commanded) path.command(now, (commanded = step.speed));
      if (step.state.phase !== phase) {
        if (now > leg.began)
          legs.push({
            phase,
            name: legName(phase, facts),
            from: leg.from,
            to: inputs.position,
            seconds: now - leg.began,
          });
        leg = { phase: step.state.phase, from: inputs.position, began: now };
        if (phase === 'search' || phase === 'exit') met = edge;
        if (phase === 'cross') crossed = edge;
        if (phase === 'push' && facts.kind === 'hard stop') crossed = inputs.position;
        if (phase === 'halt' || phase === 'turn')
          overrun = Math.max(overrun, state.direction * (inputs.position - met));
      }
      state = step.state;
    }
    if (state.phase === 'done' || state.phase === 'failed') break;
    const index =
      state.phase === 'index' || state.phase === 'clear'
        ? nextIndex(world, path.at(seen).position, commanded < 0 ? -1 : 1, indexPulses > 0 ? indexPosition : undefined)
        : undefined;
    const here: number = path.at(seen).position;
    const isHeld: boolean =
      !isBlocked && ((commanded < 0 && here <= minusStop + tiny) || (commanded > 0 && here >= plusStop - tiny));
    const next: HomingEvent | undefined = isHeld
      ? { kind: 'stop', time: seen, at: here }
      : nextEvent(
          path,
          seen,
          switches.flatMap((each) => each.edges(here)),
          index,
          isBlocked ? [] : [minusStop, plusStop].filter(Number.isFinite),
          commanded === 0,
        );
    const limit = limitEvent(definition, state, path, seen);
    if (limit !== undefined && (!next || limit < next.time)) {
      seen = limit;
      now = Math.max(now, seen + lag);
      isBlocked = false;
      continue;
    }
    if (!next) {
      state = { ...state, phase: 'failed', failure: 'switch not found', because: 'no switch is reached' };
      break;
    }
    if (next.kind === 'edge') edge = next.at;
    isBlocked = next.kind === 'stop';
    if (isBlocked) path.block(next.time);
    if (isBlocked && facts.kind !== 'hard stop') {
      now = Math.max(now, next.time + lag);
      state = { ...state, phase: 'failed', failure: 'limit in the way', because: 'it runs against the hard stop' };
      break;
    }
    const delay =
      next.kind === 'edge'
        ? debounce + (state.phase === 'cross' ? late.cross : late.search)
        : next.kind === 'stop'
          ? blockTime
          : 0;
    // A pulse is latched at once, also while an edge waits for the next look.
    const pulseAt = index === undefined ? undefined : next.kind === 'index' ? next.time : path.reaches(index, seen);
    seen = next.time + delay;
    now = Math.max(now, seen + lag);
    if (index !== undefined && pulseAt !== undefined && pulseAt <= seen)
      [indexPulses, indexPosition] = [indexPulses + 1, index];
    // What pushed against the stop is taken back.
    if (isBlocked) commanded = 0;
  }

  const end = Math.max(path.settled, now);
  const rest = path.at(end).position;
  const home = state.latched ?? rest;
  const sense = facts.kind === 'edge' ? facts.cross : facts.kind === 'hard stop' ? -facts.search : 0;
  const turns = ((definition.indexPulse ?? 1) - 1) * world.indexSpacing;
  return {
    legs,
    seconds: now,
    home,
    rest,
    reads: rest - home + positionAtHome,
    overrun,
    ...path.extent(end),
    ...(crossed === undefined ? {} : { crossed }),
    ...(facts.usesIndex && crossed !== undefined && state.phase === 'done'
      ? { indexMargin: sense * (home - crossed) - turns }
      : {}),
    ...(state.because === undefined ? {} : { because: state.because }),
    ...(state.failure === undefined ? {} : { failure: state.failure }),
    path: path.pieces,
  };
}

/** The next pulse in a direction; one at the very place counts, unless it was the last that came. */
function nextIndex(
  { indexSpacing, indexAt }: HomingWorld,
  position: number,
  direction: -1 | 1,
  last: number | undefined,
): number {
  const turns = (position - indexAt) / indexSpacing;
  const next = indexAt + (direction > 0 ? Math.ceil(turns) : Math.floor(turns)) * indexSpacing;
  const isOnLast = last !== undefined && Math.abs(position - last) < 1e-9 * indexSpacing;
  return isOnLast && Math.abs(next - last) < 1e-6 * indexSpacing ? next + direction * indexSpacing : next;
}

type HomingEvent =
  | { readonly kind: 'edge' | 'index' | 'stop'; readonly time: number; readonly at: number }
  | { readonly kind: 'stands'; readonly time: number };

function nextEvent(
  path: MotionPath,
  seen: number,
  edges: readonly number[],
  index: number | undefined,
  stops: readonly number[],
  halts: boolean,
): HomingEvent | undefined {
  const after = seen + 1e-12 * (1 + seen);
  let next: HomingEvent | undefined = halts && path.settled > seen ? { kind: 'stands', time: path.settled } : undefined;
  const consider = (kind: 'edge' | 'stop', places: readonly number[]) => {
    for (const at of places) {
      const time = path.reaches(at, after);
      if (time !== undefined && (!next || time < next.time)) next = { kind, time, at };
    }
  };
  consider('edge', edges);
  consider('stop', stops);
  if (index === undefined) return next;
  const { position } = path.at(seen);
  const isThere = Math.abs(position - index) <= 1e-12 * (Math.abs(position) + Math.abs(index));
  const time = isThere ? seen : path.reaches(index, seen);
  return time !== undefined && (!next || time < next.time) ? { kind: 'index', time, at: index } : next;
}

/** When the longest way or time allowed is over; undefined: it is not, on this path. */
function limitEvent(
  { mostTravel, mostSeconds }: HomingDefinition,
  { from }: { readonly from: number },
  path: MotionPath,
  seen: number,
): number | undefined {
  const just = 1 + 1e-9;
  const times = [
    ...(mostTravel === undefined
      ? []
      : [path.reaches(from - mostTravel * just, seen), path.reaches(from + mostTravel * just, seen)]),
    ...(mostSeconds === undefined || mostSeconds < seen ? [] : [mostSeconds * just]),
  ].flatMap((each) => (each === undefined ? [] : [each]));
  return times.length === 0 ? undefined : Math.min(...times);
}

function legName(phase: HomingPhase, facts: HomingMethodFacts): string {
  const word = facts.kind === 'edge' ? homingInputWords[facts.input] : '';
  switch (phase) {
    case 'search':
      return `Search for the ${word}`;
    case 'turn':
      return 'Stop at the limit';
    case 'exit':
      return `Leave the ${word}`;
    case 'halt':
      return 'Stop';
    case 'approach':
      return 'Creep to the near side of the edge';
    case 'rest':
      return 'Stop before the edge';
    case 'cross':
      return `Creep over the edge of the ${word}`;
    case 'clear':
      return 'Creep off the limit';
    case 'push':
      return 'Run against the hard stop';
    case 'index':
      return 'Creep to the index pulse';
    case 'settle':
    case 'done':
    case 'failed':
      return 'Stop';
  }
}
