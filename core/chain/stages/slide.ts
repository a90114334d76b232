import { exact } from '../../quantity/index.ts';
import { known } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stage.ts';

/** The slide of a linear motor: it moves as the motor does, without a turn in between. */
export interface SlideStage extends StageBase {
  readonly kind: 'slide';
}

export const slideMechanics: StageMechanics<SlideStage> = {
  ratio: () => known(exact(1)),
  travelFactors: () => known([exact(1)]),
};
