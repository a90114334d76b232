import { exact, type Exact } from '../../quantity/index.ts';
import { known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stage.ts';

/** A screw: travel per turn is its lead, which is thread pitch × starts (ISO 3408-1 for ball screws). */
export interface ScrewStage extends StageBase {
  readonly kind: 'screw';
  /** mm a turn */
  readonly lead: Outcome<Exact>;
  readonly starts: Outcome<Exact>;
}

export const screwMechanics: StageMechanics<ScrewStage> = {
  ratio: () => known(exact(1)),
  travelFactors: (stage) => map(stage.lead, (lead) => [lead]),
};
