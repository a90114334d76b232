import type { Exact } from '../../quantity/index.ts';
import type { Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A reducer known by its ratio, input turns to one output turn: `3`, or exactly `491/49`. */
export interface GearboxStage extends StageBase {
  readonly kind: 'gearbox';
  readonly ratio: Outcome<Exact>;
}

export const gearboxMechanics: StageMechanics<GearboxStage> = {
  role: 'turning',
  ratio: (stage) => stage.ratio,
  travelFactors: () => undefined,
};
