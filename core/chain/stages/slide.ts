import { exact } from '../../quantity/index.ts';
import { known } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** The slide of a linear motor: it moves as the motor does, without a turn in between. */
export interface SlideStage extends StageBase {
  readonly kind: 'slide';
}

export const slideMechanics: StageMechanics<SlideStage> = {
  role: 'pushed',
  ratio: () => known(exact(1)),
  travelFactors: () => known([exact(1)]),
};
