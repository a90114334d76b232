import type { HomingDefinition } from './homingMethod.ts';

/** The axis around its minus limit. Positions and lengths in the unit of the definition. */
export interface HomingWorld {
  readonly start: number;
  /** Where the minus limit switches. */
  readonly minusEdge: number;
  /** Travel between two index pulses, and the position of any one of them. */
  readonly indexSpacing: number;
  readonly indexAt: number;
  /** s between two looks at the inputs. */
  readonly scanPeriod: number;
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
  /** The latched point, in the coordinates of the world. */
  readonly home: number;
  /** Where the axis comes to rest, and what the position then reads. */
  readonly rest: number;
  readonly reads: number;
  /** How far the axis runs past the edge of the limit: the room the switch needs. */
  readonly overrun: number;
  /** Method 1: travel from the edge to the index pulse; near 0 or near the spacing is a gamble of one turn. */
  readonly indexMargin?: number;
}

/** Where a homing goes and how long it takes. `late` is how long after the edge the drive sees it, at most one scan. */
export function predictHoming(
  definition: HomingDefinition,
  world: HomingWorld,
  late: { readonly search: number; readonly leave: number } = {
    search: world.scanPeriod / 2,
    leave: world.scanPeriod / 2,
  },
): HomingPrediction {
  const { searchSpeed, creepSpeed, acceleration, method, homeOffset } = definition;
  if (method === 37) {
    return { legs: [], seconds: 0, home: world.start, rest: world.start, reads: homeOffset, overrun: 0 };
  }
  const legs: HomingLeg[] = [];
  let at = world.start;
  let overrun = 0;
  if (world.start > world.minusEdge) {
    const seen = world.minusEdge - searchSpeed * late.search;
    const stop = seen - searchSpeed ** 2 / (2 * acceleration);
    const seconds = (world.start - seen) / searchSpeed + searchSpeed / (2 * acceleration);
    legs.push({ name: 'Search for the minus limit', from: at, to: seen, seconds });
    legs.push({ name: 'Stop beyond it', from: seen, to: stop, seconds: searchSpeed / acceleration });
    at = stop;
    overrun = world.minusEdge - stop;
  }
  const rampUp = creepSpeed / acceleration;
  const edge = world.minusEdge + creepSpeed * late.leave;
  legs.push({ name: 'Creep off the limit', from: at, to: edge, seconds: (edge - at) / creepSpeed + rampUp / 2 });
  const afterEdge = world.indexAt + Math.ceil((edge - world.indexAt) / world.indexSpacing) * world.indexSpacing;
  const home = method === 1 ? afterEdge : edge;
  if (method === 1)
    legs.push({ name: 'Creep to the index pulse', from: edge, to: home, seconds: (home - edge) / creepSpeed });
  const rest = home + creepSpeed ** 2 / (2 * acceleration);
  legs.push({ name: 'Stop', from: home, to: rest, seconds: rampUp });
  return {
    legs,
    seconds: legs.reduce((sum, leg) => sum + leg.seconds, 0),
    home,
    rest,
    reads: rest - home + homeOffset,
    overrun,
    ...(method === 1 ? { indexMargin: home - world.minusEdge } : {}),
  };
}
