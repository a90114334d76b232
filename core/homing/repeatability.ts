import type { HomingDefinition } from './homingMethod.ts';
import { predictHoming, type HomingWorld } from './predictHoming.ts';

export interface RepeatabilityInput {
  readonly definition: HomingDefinition;
  readonly world: HomingWorld;
  /** Standard deviation of the switch's own edge, same unit as the positions. */
  readonly switchScatter: number;
  readonly runs: number;
  readonly seed: number;
}

export interface Repeatability {
  readonly mean: number;
  readonly standardDeviation: number;
  /** Largest minus smallest home position. */
  readonly range: number;
}

/** Many homings by the event model: scatter of the switch and of the moment at which it is seen. Same seed, same answer. */
export function repeatability(input: RepeatabilityInput): Repeatability {
  const { definition, world, switchScatter, runs } = input;
  const random = generator(input.seed);
  const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  let [mean, squares, low, high] = [0, 0, Infinity, -Infinity];
  for (let k = 1; k <= runs; k++) {
    const minusEdge = (world.minusEdge ?? 0) + switchScatter * gauss();
    const late = { search: world.scanPeriod * random(), cross: world.scanPeriod * random() };
    const { home } = predictHoming(definition, { ...world, minusEdge }, late);
    const delta = home - mean;
    mean += delta / k;
    squares += delta * (home - mean);
    low = Math.min(low, home);
    high = Math.max(high, home);
  }
  return { mean, standardDeviation: runs > 1 ? Math.sqrt(squares / (runs - 1)) : 0, range: high - low };
}

/** Multiplicative congruential generator of Park and Miller (1988), 0 ≤ x < 1. */
function generator(seed: number): () => number {
  let state = (Math.abs(Math.trunc(seed)) % 2147483646) + 1;
  return () => {
    state = (state * 48271) % 2147483647;
    return (state - 1) / 2147483646;
  };
}
