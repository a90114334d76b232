import { homingMethodFacts, type HomingDefinition } from './homingMethod.ts';
import { startHoming, stepHoming, type HomingInputs, type HomingPhase, type HomingState } from './homingSequence.ts';
import { MotionPath } from './motionPath.ts';

/** The axis and its switches. Positions and lengths in the unit of the definition. */
export interface HomingWorld {
  readonly start: number;
  /** The minus limit is on up to here. */
  readonly minusEdge: number;
  /** The plus limit is on from here; without one none comes. */
  readonly plusEdge?: number;
  /** The home switch is on from here to there. */
  readonly homeSwitch?: { readonly from: number; readonly to: number };
  /** Travel between two index pulses, and the position of any one of them. */
  readonly indexSpacing: number;
  readonly indexAt: number;
  /** s between two looks at the inputs. */
  readonly scanPeriod: number;
  /** s by which the axis follows its command: (1 − feedforward)/position gain; 0 when left out. */
  readonly lag?: number;
}

export interface HomingLeg {
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
  /** With an index: travel from the edge to its pulse; near 0 or near the spacing is a gamble of one turn. */
  readonly indexMargin?: number;
  /** Why it does not come to its end. */
  readonly because?: string;
}

/** More changes of inputs than any homing has. */
const mostLooks = 1000;

/**
 * Where a homing goes and how long it takes: {@link stepHoming} on an axis that follows its ramps, looked at whenever an input
 * changes. `late` is how long after an edge the drive sees it, at most one scan.
 */
export function predictHoming(
  definition: HomingDefinition,
  world: HomingWorld,
  late: { readonly search: number; readonly leave: number } = {
    search: world.scanPeriod / 2,
    leave: world.scanPeriod / 2,
  },
): HomingPrediction {
  const { method, homeOffset } = definition;
  const { leave, usesIndex } = homingMethodFacts(method);
  const lag = world.lag ?? 0;
  const path = new MotionPath(world.start, definition.acceleration);
  const edges = edgesOf(world);
  let indexPulses = 0;
  let indexPosition = 0;
  let commanded = 0;

  /** What the drive knows of the moment: `position` is where the axis is; the command may be ahead of it. */
  function inputsAt(seen: number): HomingInputs {
    const { position, speed } = path.at(seen);
    // At an edge, the side to which the axis moves or is about to.
    const beside = position + Math.sign(speed || commanded) * 1e-11 * (Math.abs(position) + world.indexSpacing);
    return {
      minusLimit: beside <= world.minusEdge,
      plusLimit: world.plusEdge !== undefined && beside >= world.plusEdge,
      homeSwitch: !!world.homeSwitch && beside >= world.homeSwitch.from && beside <= world.homeSwitch.to,
      position,
      standsStill: commanded === 0 && seen >= path.settled,
      indexPulses,
      indexPosition,
    };
  }

  const legs: HomingLeg[] = [];
  let leg = { phase: 'search' as HomingPhase, from: world.start, began: 0 };
  let [edge, overrun] = [world.start, 0];
  /** The edges at which the search ended and the switch was left. */
  let [met, left] = [world.start, world.start];
  let state: HomingState = startHoming(definition, inputsAt(0));
  /** Time of the axis, and of the command, which is `lag` later. */
  let [seen, now] = [0, 0];
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
            name: legName(phase, definition),
            from: leg.from,
            to: inputs.position,
            seconds: now - leg.began,
          });
        leg = { phase: step.state.phase, from: inputs.position, began: now };
        if (phase === 'search') met = edge;
        if (phase === 'leave') left = edge;
        if ((phase === 'halt' || phase === 'turn') && !state.returned)
          overrun = Math.max(overrun, state.direction * (inputs.position - met));
      }
      state = step.state;
    }
    if (state.phase === 'done' || state.phase === 'failed') break;
    const next = nextEvent(
      path,
      seen,
      edges,
      state.phase === 'index' ? nextIndex(world, path.at(seen).position, leave) : undefined,
      commanded === 0,
    );
    if (!next) {
      state = { ...state, phase: 'failed', because: 'no switch is reached' };
      break;
    }
    if (next.kind === 'index') [indexPulses, indexPosition] = [indexPulses + 1, next.at];
    if (next.kind === 'edge') edge = next.at;
    const delay = next.kind === 'edge' ? (state.phase === 'leave' ? late.leave : late.search) : 0;
    seen = next.time + delay;
    now = Math.max(now, seen + lag);
  }
  const rest = path.at(Math.max(path.settled, now)).position;
  const home = state.latched ?? rest;
  return {
    legs,
    seconds: now,
    home,
    rest,
    reads: rest - home + homeOffset,
    overrun,
    ...(usesIndex && state.phase === 'done' ? { indexMargin: leave * (home - left) } : {}),
    ...(state.because === undefined ? {} : { because: state.because }),
  };
}

const edgesOf = ({ minusEdge, plusEdge, homeSwitch }: HomingWorld): readonly number[] => [
  minusEdge,
  ...(plusEdge === undefined ? [] : [plusEdge]),
  ...(homeSwitch ? [homeSwitch.from, homeSwitch.to] : []),
];

/** The next pulse in a direction; one at the very place counts. */
function nextIndex({ indexSpacing, indexAt }: HomingWorld, position: number, direction: -1 | 1): number {
  const turns = (position - indexAt) / indexSpacing;
  return indexAt + (direction > 0 ? Math.ceil(turns) : Math.floor(turns)) * indexSpacing;
}

type HomingEvent =
  | { readonly kind: 'edge' | 'index'; readonly time: number; readonly at: number }
  | { readonly kind: 'stands'; readonly time: number };

function nextEvent(
  path: MotionPath,
  seen: number,
  edges: readonly number[],
  index: number | undefined,
  stops: boolean,
): HomingEvent | undefined {
  const after = seen + 1e-12 * (1 + seen);
  let next: HomingEvent | undefined = stops && path.settled > seen ? { kind: 'stands', time: path.settled } : undefined;
  for (const at of edges) {
    const time = path.reaches(at, after);
    if (time !== undefined && (!next || time < next.time)) next = { kind: 'edge', time, at };
  }
  if (index === undefined) return next;
  const { position } = path.at(seen);
  const isThere = Math.abs(position - index) <= 1e-12 * (Math.abs(position) + Math.abs(index));
  const time = isThere ? seen : path.reaches(index, seen);
  return time !== undefined && (!next || time < next.time) ? { kind: 'index', time, at: index } : next;
}

const switchWords = {
  minusLimit: 'minus limit',
  plusLimit: 'plus limit',
  homeSwitch: 'home switch',
  none: '',
} as const;

function legName(phase: HomingPhase, { method }: HomingDefinition): string {
  const word = switchWords[homingMethodFacts(method).homesOn];
  switch (phase) {
    case 'search':
      return `Search for the ${word}`;
    case 'turn':
      return 'Stop at the limit';
    case 'halt':
      return `Stop on the ${word}`;
    case 'return':
      return `Creep back to the ${word}`;
    case 'leave':
      return `Creep off the ${word}`;
    case 'index':
      return 'Creep to the index pulse';
    case 'settle':
    case 'done':
    case 'failed':
      return 'Stop';
  }
}
