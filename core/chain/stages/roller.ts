import { exact, type Exact } from '../../quantity/index.ts';
import { known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A roller that carries or feeds by friction: travel per turn is π · diameter. Slip is not in it; it is measured. */
export interface RollerStage extends StageBase {
  readonly kind: 'roller';
  /** mm */
  readonly diameter: Outcome<Exact>;
}

export const rollerMechanics: StageMechanics<RollerStage> = {
  role: 'travel',
  ratio: () => known(exact(1)),
  travelFactors: (stage) => map(stage.diameter, (diameter) => [exact(1, 1, 1), diameter]),
};
