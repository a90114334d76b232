import { homingMethodFacts, type HomingDefinition } from './homingMethod.ts';
import { normalTail } from './normalTail.ts';
import { predictHoming, type HomingWorld } from './predictHoming.ts';

export interface RepeatabilityInput {
  readonly definition: HomingDefinition;
  readonly world: HomingWorld;
  /** Standard deviation of the edge of the switch, or of the hard stop, in the unit of the positions. */
  readonly switchScatter: number;
  /** The switch edge drifts by up to this much to either side with temperature, evenly distributed; same unit. */
  readonly drift?: number;
  readonly runs: number;
  readonly seed: number;
}

export interface Repeatability {
  /** Of the runs that came to their end. */
  readonly homes: readonly number[];
  readonly failed: number;
  readonly mean: number;
  /** With n − 1. */
  readonly standardDeviation: number;
  /** Largest minus smallest home position. */
  readonly range: number;
  /** Runs that came to another index pulse than most. */
  readonly jumps: number;
  /** The chance of that for one homing, by the tail of the scatter; undefined: no index pulse counts. */
  readonly jumpOdds?: number;
}

/** Many homings by the event model: scatter of the switch and of the moments at which it is seen. Same seed, same answer. */
export function repeatability(input: RepeatabilityInput): Repeatability {
  const { definition, world, switchScatter, drift = 0, runs } = input;
  const random = generator(input.seed);
  const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const homes: number[] = [];
  for (let k = 0; k < runs; k++) {
    const shift = switchScatter * gauss() + drift * (2 * random() - 1);
    const late = { search: world.scanPeriod * random(), cross: world.scanPeriod * random() };
    const { home, because } = predictHoming(definition, shifted(world, shift), late);
    if (because === undefined) homes.push(home);
  }
  const count = homes.length;
  const mean = homes.reduce((sum, home) => sum + home, 0) / Math.max(1, count);
  const squares = homes.reduce((sum, home) => sum + (home - mean) ** 2, 0);
  const [low, high] = homes.reduce(([a, b], home) => [Math.min(a, home), Math.max(b, home)], [Infinity, -Infinity]);
  const usual = [...homes].sort((a, b) => a - b)[Math.floor(count / 2)] ?? 0;
  const odds = jumpOdds(input);
  return {
    homes,
    failed: runs - count,
    mean,
    standardDeviation: count > 1 ? Math.sqrt(squares / (count - 1)) : 0,
    range: count > 0 ? high - low : 0,
    jumps: homes.filter((home) => Math.abs(home - usual) > world.indexSpacing / 2).length,
    ...(odds === undefined ? {} : { jumpOdds: odds }),
  };
}

/** All that is a switch or a stop, moved. */
const shifted = (world: HomingWorld, by: number): HomingWorld => {
  const { minusEdge, plusEdge, homeSwitch, minusStop, plusStop } = world;
  const moved = (place: number | undefined) => (place === undefined ? undefined : place + by);
  const given = {
    minusEdge: moved(minusEdge),
    plusEdge: moved(plusEdge),
    minusStop: moved(minusStop),
    plusStop: moved(plusStop),
    homeSwitch: homeSwitch && {
      ...homeSwitch,
      from: homeSwitch.from + by,
      to: homeSwitch.to + by,
      ...(homeSwitch.secondFrom === undefined ? {} : { secondFrom: homeSwitch.secondFrom + by }),
    },
  };
  return { ...world, ...Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)) };
};

/** Steps of the integrals over delay and drift. */
const steps = 24;

/**
 * The chance that a homing comes to another index pulse: the edge, scattered normally, seen up to one scan late at creep speed and
 * wandering evenly within its drift, passes the pulse after it or comes before the one that it should leave behind. The mean is taken
 * over the delay and the drift. @returns undefined where no index pulse counts
 */
export function jumpOdds(input: Omit<RepeatabilityInput, 'runs' | 'seed'>): number | undefined {
  const { definition, world, switchScatter, drift = 0 } = input;
  if (!homingMethodFacts(definition.method).usesIndex) return undefined;
  const { indexMargin } = predictHoming(definition, world, { search: 0, cross: 0 });
  if (indexMargin === undefined) return undefined;
  // Debouncing delays every look alike.
  const margin = indexMargin - definition.creepSpeed * (world.debounce ?? 0);
  const late = definition.creepSpeed * world.scanPeriod;
  const beyond = (distance: number) =>
    switchScatter > 0 ? normalTail(distance / switchScatter) : distance < 0 ? 1 : distance === 0 ? 0.5 : 0;
  let sum = 0;
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < steps; j++) {
      const off = (late * (i + 0.5)) / steps + drift * ((2 * (j + 0.5)) / steps - 1);
      sum += beyond(margin - off) + beyond(world.indexSpacing - margin + off);
    }
  return Math.min(1, sum / steps ** 2);
}

/** Multiplicative congruential generator of Park and Miller (1988), 0 ≤ x < 1. */
function generator(seed: number): () => number {
  let state = (Math.abs(Math.trunc(seed)) % 2147483646) + 1;
  return () => {
    state = (state * 48271) % 2147483647;
    return (state - 1) / 2147483646;
  };
}
