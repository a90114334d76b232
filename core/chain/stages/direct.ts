import { exact } from '../../quantity/index.ts';
import { known } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A coupling: turn for turn. */
export interface DirectStage extends StageBase {
  readonly kind: 'direct';
}

export const directMechanics: StageMechanics<DirectStage> = {
  role: 'turning',
  ratio: () => known(exact(1)),
  travelFactors: () => undefined,
};
