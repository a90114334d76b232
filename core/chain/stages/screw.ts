import { exact, type Exact } from '../../quantity/index.ts';
import { all, finite, known, map, type Outcome } from '../../sheet/index.ts';
import { slidingBackDrive, type StageBase, type StageMechanics } from './stageMechanics.ts';

/** How the two ends of a screw are held: fixed against tilting, only supported, or free. */
export type ScrewBearings = 'fixed and free' | 'supported at both' | 'fixed and supported' | 'fixed at both';

/** A screw: travel per turn is its lead, which is thread pitch × starts (ISO 3408-1 for ball screws). */
export interface ScrewStage extends StageBase {
  readonly kind: 'screw';
  /** Balls or rollers between screw and nut, or sliding flanks. */
  readonly thread: 'rolling' | 'sliding';
  /** mm a turn */
  readonly lead: Outcome<Exact>;
  readonly starts: Outcome<Exact>;
  /** A left-hand thread moves its nut the other way. */
  readonly leftHand: boolean;
  /** mm, at the root of the thread */
  readonly rootDiameter: Outcome<number>;
  /** mm, the longest stretch between bearing and nut */
  readonly freeLength: Outcome<number>;
  readonly bearings: ScrewBearings;
}

export const screwMechanics: StageMechanics<ScrewStage> = {
  role: 'travel',
  ratio: () => known(exact(1)),
  travelFactors: (stage) => map(stage.lead, (lead) => [lead]),
  backDriveEfficiency: (stage) => (stage.thread === 'sliding' ? slidingBackDrive(stage.efficiency) : stage.efficiency),
  reverses: (stage) => stage.reverses !== stage.leftHand,
  criticalSpeed: (stage) => criticalSpeed(stage),
};

/** First root of the frequency equation of a beam held so (Young and Budynas, Roark's Formulas, table of beam vibrations). */
const firstRoot: Readonly<Record<ScrewBearings, number>> = {
  'fixed and free': 1.875104,
  'supported at both': Math.PI,
  'fixed and supported': 3.926602,
  'fixed at both': 4.730041,
};
const steel = { elasticity: 206e9, density: 7850 };

/**
 * rpm at which a steel screw whirls: the first bending frequency of its free stretch, λ² / (2π · l²) · √(E · I / (ρ · A)) with
 * √(I / A) = d / 4.
 */
export function criticalSpeed(stage: ScrewStage): Outcome<number> {
  const numbers = all<[number, number]>(stage.rootDiameter, stage.freeLength);
  if (numbers.state === 'unknown') return numbers;
  const [diameter, length] = numbers.value;
  const waveSpeed = Math.sqrt(steel.elasticity / steel.density);
  const perSecond =
    (firstRoot[stage.bearings] ** 2 * waveSpeed * (diameter / 4000)) / (2 * Math.PI * (length / 1000) ** 2);
  return finite(60 * perSecond, 'the free length of the screw is too short to be one');
}
