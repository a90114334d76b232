import { exact, type Exact } from '../../quantity/index.ts';
import { all, known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A toothed belt that carries the load: travel per turn is teeth × pitch (pitches: ISO 5296, ISO 13050, ISO 17396). */
export interface BeltDriveStage extends StageBase {
  readonly kind: 'beltDrive';
  readonly teeth: Outcome<Exact>;
  /** mm */
  readonly pitch: Outcome<Exact>;
  /** N: the pull that would stretch the belt to twice its length, from its data sheet */
  readonly specificStiffness: Outcome<number>;
  /** mm of belt that carry the pull, with the load at its farthest */
  readonly freeLength: Outcome<number>;
}

export const beltDriveMechanics: StageMechanics<BeltDriveStage> = {
  role: 'travel',
  ratio: () => known(exact(1)),
  travelFactors: (stage) => map(all<[Exact, Exact]>(stage.teeth, stage.pitch), (factors) => factors),
  compliance: (stage) =>
    map(all<[number, number]>(stage.freeLength, stage.specificStiffness), ([length, pull]) => length / pull),
};
