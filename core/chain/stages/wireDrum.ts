import { add, exact, type Exact } from '../../quantity/index.ts';
import { all, known, map, type Outcome } from '../../sheet/index.ts';
import type { StageBase, StageMechanics } from './stageMechanics.ts';

/** A drum that winds a wire in one layer: the wire runs on its own middle, so travel per turn is π · (drum + wire). */
export interface WireDrumStage extends StageBase {
  readonly kind: 'wireDrum';
  /** mm, of the bare drum, at the bottom of its groove where it has one */
  readonly drumDiameter: Outcome<Exact>;
  /** mm */
  readonly wireDiameter: Outcome<Exact>;
}

export const wireDrumMechanics: StageMechanics<WireDrumStage> = {
  role: 'travel',
  ratio: () => known(exact(1)),
  travelFactors: (stage) =>
    map(all<[Exact, Exact]>(stage.drumDiameter, stage.wireDiameter), ([drum, wire]) => [
      exact(1, 1, 1),
      add(drum, wire),
    ]),
};
