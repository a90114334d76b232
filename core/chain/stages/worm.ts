import { divide, type Exact } from '../../quantity/index.ts';
import { all, map, type Outcome } from '../../sheet/index.ts';
import { slidingBackDrive, type StageBase, type StageMechanics } from './stageMechanics.ts';

/** A worm gear: wheel teeth over worm starts turns in for one turn out. */
export interface WormStage extends StageBase {
  readonly kind: 'worm';
  readonly starts: Outcome<Exact>;
  readonly wheelTeeth: Outcome<Exact>;
  /** As measured or given by its maker; undefined: 2 − 1/η is assumed. */
  readonly backDriveEfficiency: Outcome<number> | undefined;
}

export const wormMechanics: StageMechanics<WormStage> = {
  role: 'turning',
  ratio: (stage) =>
    map(all<[Exact, Exact]>(stage.wheelTeeth, stage.starts), ([teeth, starts]) => divide(teeth, starts)),
  travelFactors: () => undefined,
  backDriveEfficiency: (stage) => stage.backDriveEfficiency ?? slidingBackDrive(stage.efficiency),
};
