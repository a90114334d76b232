import { homingMethodFacts, type HomingDefinition } from './homingMethod.ts';
import { predictHoming, type HomingPrediction, type HomingWorld } from './predictHoming.ts';

/**
 * Of all starts within the travel and all places of the index pulse, the most time and the furthest overrun, each of the run that
 * has it. Every edge is seen as late as the scan allows.
 */
export function longestHoming(
  definition: HomingDefinition,
  world: Omit<HomingWorld, 'start' | 'indexAt'> & { readonly plusEdge: number },
): HomingPrediction {
  const { leave } = homingMethodFacts(definition.method);
  const { minusEdge, plusEdge, homeSwitch, indexSpacing, scanPeriod } = world;
  const late = { search: scanPeriod, leave: scanPeriod };
  const inside = 1e-6 * (plusEdge - minusEdge);
  const beside = (edge: number) => [edge - inside, edge, edge + inside];
  const starts = [minusEdge, plusEdge, ...(homeSwitch ? [homeSwitch.from, homeSwitch.to] : [])].flatMap(beside);
  const runs = starts
    .filter((start) => start >= minusEdge && start <= plusEdge)
    .map((start) => {
      const { home, indexMargin = 0 } = predictHoming(definition, { ...world, start, indexAt: 0 }, late);
      // The pulse has just gone by when the switch is seen to be off: a whole turn to the next.
      const off = home - leave * (indexMargin - definition.creepSpeed * scanPeriod);
      return predictHoming(definition, { ...world, start, indexAt: off - leave * 1e-6 * indexSpacing }, late);
    });
  const failed = runs.find(({ because }) => because !== undefined);
  const longest = runs.reduce((most, each) => (each.seconds > most.seconds ? each : most));
  return failed ?? { ...longest, overrun: Math.max(...runs.map(({ overrun }) => overrun)) };
}
