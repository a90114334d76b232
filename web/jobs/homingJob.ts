import { axisInputOf, homingModel, type AxisDocument } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import {
  chooseHoming,
  homingMethodFacts,
  longestHoming,
  repeatability,
  type HomingChoice,
  type HomingMeans,
  type HomingMethod,
  type HomingPrediction,
  type HomingPriority,
  type Repeatability,
} from '@kavrid/core/homing';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';

export interface HomingRequest {
  readonly axis: AxisDocument;
  readonly means: HomingMeans;
  readonly priority: HomingPriority;
}

/** Runs of the predicted repeatability. */
export const predictedRuns = 1000;

export interface HomingPlan {
  readonly choices: readonly HomingChoice[];
  /** Of the method that is planned; undefined: it cannot be predicted. */
  readonly longest: HomingPrediction | undefined;
  readonly spread: Repeatability | undefined;
}

/** What can be homed by, the longest homing of the planned method, and how well it repeats. */
export function planHoming({ axis, means, priority }: HomingRequest): HomingPlan {
  const results = evaluateAxis(axisInputOf(axis).input);
  const counts = valueOf(results.countsPerRevolution);
  const modelBy = (method: HomingMethod) =>
    valueOf(homingModel({ ...axis, homing: { ...axis.homing, method } }, results));
  const predict = (method: HomingMethod) => {
    const model = modelBy(method);
    return model && longestHoming(model.definition, model.world);
  };
  const scatterOf = (method: HomingMethod) => {
    const model = modelBy(method);
    if (!model) return Infinity;
    const { definition, world, switchScatter = 0 } = model;
    const { kind, usesIndex } = homingMethodFacts(method);
    if (usesIndex) return counts ? world.indexSpacing / toNumber(counts) : 0;
    // A uniform delay of one scan has a standard deviation of a scan over √12.
    return kind === 'edge'
      ? Math.hypot(switchScatter, (definition.creepSpeed * world.scanPeriod) / Math.sqrt(12))
      : switchScatter;
  };
  const model = modelBy(axis.homing.method);
  return {
    choices: chooseHoming(means, priority, predict, scatterOf),
    longest: predict(axis.homing.method),
    spread:
      model &&
      repeatability({
        definition: model.definition,
        world: { ...model.world, start: model.travel / 2, indexAt: model.indexAt ?? 0 },
        switchScatter: model.switchScatter ?? 0,
        drift: model.switchDrift,
        runs: predictedRuns,
        seed: 1,
      }),
  };
}
