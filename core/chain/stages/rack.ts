import { cosineOf, divide, exact, toRational, type Exact } from '../../quantity/index.ts';
import { all, known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/**
 * A pinion on a rack: travel per turn is π · module · teeth, over cos β where the teeth are helical and the module is the
 * normal one (modules: ISO 54).
 */
export interface RackStage extends StageBase {
  readonly kind: 'rack';
  readonly teeth: Outcome<Exact>;
  /** mm; the normal module of a helical rack */
  readonly module: Outcome<Exact>;
  /** Degrees; 0 for a straight rack. */
  readonly helixAngle: Outcome<Exact>;
}

const pi = exact(1, 1, 1);

export const rackMechanics: StageMechanics<RackStage> = {
  role: 'travel',
  ratio: () => known(exact(1)),
  travelFactors: (stage) =>
    map(all<[Exact, Exact, Exact]>(stage.module, stage.teeth, stage.helixAngle), ([module, teeth, angle]) =>
      angle.ratio.numerator === 0n ? [pi, module, teeth] : [pi, divide(module, cosineOf(toRational(angle))), teeth],
    ),
};
