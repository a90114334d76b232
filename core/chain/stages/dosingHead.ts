import { exact, type Exact } from '../../quantity/index.ts';
import { known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A pump head that gives a fixed volume a turn: peristaltic, gear or progressing cavity. */
export interface DosingHeadStage extends StageBase {
  readonly kind: 'dosingHead';
  /** mL */
  readonly outputPerTurn: Outcome<Exact>;
}

export const dosingHeadMechanics: StageMechanics<DosingHeadStage> = {
  role: 'dosing',
  ratio: () => known(exact(1)),
  travelFactors: (stage) => map(stage.outputPerTurn, (output) => [output]),
};
