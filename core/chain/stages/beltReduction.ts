import { divide, type Exact } from '../../quantity/index.ts';
import { all, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A toothed belt or chain between two wheels: driven over driving teeth turns in for one turn out. */
export interface BeltReductionStage extends StageBase {
  readonly kind: 'beltReduction';
  readonly drivingTeeth: Outcome<Exact>;
  readonly drivenTeeth: Outcome<Exact>;
}

export const beltReductionMechanics: StageMechanics<BeltReductionStage> = {
  role: 'turning',
  ratio: (stage) =>
    map(all<[Exact, Exact]>(stage.drivenTeeth, stage.drivingTeeth), ([driven, driving]) => divide(driven, driving)),
  travelFactors: () => undefined,
};
