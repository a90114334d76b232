import { homingMethodFacts, type HomingDefinition } from './homingMethod.ts';
import { predictHoming, secondFlag, type HomingPrediction, type HomingWorld } from './predictHoming.ts';

/** Places that say all about the starts of an axis: both sides of every edge, and its ends. */
export function telltaleStarts(world: Omit<HomingWorld, 'start' | 'indexAt'>): readonly number[] {
  const { minusEdge, plusEdge, homeSwitch, minusStop, plusStop, indexSpacing } = world;
  const edges = [
    minusEdge,
    plusEdge,
    homeSwitch?.from,
    homeSwitch?.to,
    ...(homeSwitch ? secondFlag(homeSwitch).flat() : []),
  ].filter((each): each is number => each !== undefined && Number.isFinite(each));
  const ends = [minusStop, plusStop].filter((each): each is number => each !== undefined && Number.isFinite(each));
  const all = [...edges, ...ends];
  const inside = 1e-6 * (all.length > 1 ? Math.max(...all) - Math.min(...all) : indexSpacing);
  const beside = edges.flatMap((edge) => [edge - inside, edge, edge + inside]);
  const [low, high] = [minusStop ?? -Infinity, plusStop ?? Infinity];
  const within = [...beside, ...ends].filter((start) => start >= low && start <= high);
  return within.length === 0 ? [0] : within;
}

/**
 * Of all starts between the limits, all places of the index pulse and all moments of the looks at the inputs, the most time; the
 * furthest overrun and the most room on both sides are those of the runs that have them.
 */
export function longestHoming(
  definition: HomingDefinition,
  world: Omit<HomingWorld, 'start' | 'indexAt'>,
): HomingPrediction {
  const facts = homingMethodFacts(definition.method);
  const { minusEdge = -Infinity, plusEdge = Infinity, indexSpacing, scanPeriod } = world;
  const looks = [0, scanPeriod].flatMap((search) => [0, scanPeriod].map((cross) => ({ search, cross })));
  const inside = telltaleStarts(world).filter((start) => start >= minusEdge && start <= plusEdge);
  const starts = inside.length > 0 ? inside : [0];
  const runs = starts.flatMap((start) =>
    looks.map((late) => {
      const first = predictHoming(definition, { ...world, start, indexAt: 0 }, late);
      if (!facts.usesIndex) return first;
      // The pulse has just gone by when it is first awaited: a whole turn to the next.
      const sense = facts.kind === 'edge' ? facts.cross : facts.kind === 'index' ? facts.search : -facts.search;
      const awaited = (first.crossed ?? start) + sense * definition.creepSpeed * late.cross;
      return predictHoming(definition, { ...world, start, indexAt: awaited - sense * 1e-6 * indexSpacing }, late);
    }),
  );
  const failed = runs.find(({ because }) => because !== undefined);
  const longest = runs.reduce((most, each) => (each.seconds > most.seconds ? each : most));
  return (
    failed ?? {
      ...longest,
      overrun: Math.max(...runs.map(({ overrun }) => overrun)),
      lowest: Math.min(...runs.map(({ lowest }) => lowest)),
      highest: Math.max(...runs.map(({ highest }) => highest)),
    }
  );
}
