import type { Exact } from '../../quantity/index.ts';
import type { Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A table with its own reduction, motor-side turns to one turn of the table; 1 where it is driven directly. */
export interface RotaryTableStage extends StageBase {
  readonly kind: 'rotaryTable';
  readonly ratio: Outcome<Exact>;
}

export const rotaryTableMechanics: StageMechanics<RotaryTableStage> = {
  role: 'turning',
  ratio: (stage) => stage.ratio,
  travelFactors: () => undefined,
};
