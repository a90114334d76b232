import type { Exact } from '../../quantity/index.ts';
import { map, type Outcome } from '../../sheet/index.ts';
import type { MotionKind, MotorForm } from '../axisInput.ts';
import { beltDriveMechanics, type BeltDriveStage } from './beltDrive.ts';
import { beltReductionMechanics, type BeltReductionStage } from './beltReduction.ts';
import { directMechanics, type DirectStage } from './direct.ts';
import { dosingHeadMechanics, type DosingHeadStage } from './dosingHead.ts';
import { gearboxMechanics, type GearboxStage } from './gearbox.ts';
import { rackMechanics, type RackStage } from './rack.ts';
import { rollerMechanics, type RollerStage } from './roller.ts';
import { rotaryTableMechanics, type RotaryTableStage } from './rotaryTable.ts';
import { screwMechanics, type ScrewStage } from './screw.ts';
import { slideMechanics, type SlideStage } from './slide.ts';
import { wireDrumMechanics, type WireDrumStage } from './wireDrum.ts';
import { wormMechanics, type WormStage } from './worm.ts';

/** What every stage has. */
export interface StageBase {
  /** A plus turn at the input gives a minus turn (or travel) at the output. */
  readonly reverses: boolean;
  /** Power out over power in, above 0 up to 1. */
  readonly efficiency: Outcome<number>;
  /** kg·m² at the shaft that drives the stage; kg for a slide. */
  readonly inertia: Outcome<number>;
  /** The full difference at its output: degrees of a shaft, or the unit of the travel. */
  readonly backlash: Outcome<number>;
  /** rpm of the shaft that drives it, mm/s for a slide; undefined where none is given. */
  readonly speedLimit: number | undefined;
}

/** One element of the mechanics, in the order from the motor to the load. */
export type Stage =
  | DirectStage
  | GearboxStage
  | BeltReductionStage
  | WormStage
  | RotaryTableStage
  | BeltDriveStage
  | ScrewStage
  | RackStage
  | RollerStage
  | WireDrumStage
  | DosingHeadStage
  | SlideStage;

/** What a kind of stage does to a turn. */
export interface StageMechanics<S> {
  /** Turns at the input for one turn at the output, positive. */
  readonly ratio: (stage: S) => Outcome<Exact>;
  /** Factors whose product is the travel in mm or mL for one turn; undefined when the stage gives turns out. */
  readonly travelFactors: (stage: S) => Outcome<readonly Exact[]> | undefined;
}

export function ratioOf(stage: Stage): Outcome<Exact> {
  switch (stage.kind) {
    case 'direct':
      return directMechanics.ratio(stage);
    case 'gearbox':
      return gearboxMechanics.ratio(stage);
    case 'beltDrive':
      return beltDriveMechanics.ratio(stage);
    case 'screw':
      return screwMechanics.ratio(stage);
    case 'worm':
      return wormMechanics.ratio(stage);
    case 'beltReduction':
      return beltReductionMechanics.ratio(stage);
    case 'rack':
      return rackMechanics.ratio(stage);
    case 'roller':
      return rollerMechanics.ratio(stage);
    case 'wireDrum':
      return wireDrumMechanics.ratio(stage);
    case 'rotaryTable':
      return rotaryTableMechanics.ratio(stage);
    case 'dosingHead':
      return dosingHeadMechanics.ratio(stage);
    case 'slide':
      return slideMechanics.ratio(stage);
  }
}

export function travelFactorsOf(stage: Stage): Outcome<readonly Exact[]> | undefined {
  switch (stage.kind) {
    case 'direct':
      return directMechanics.travelFactors(stage);
    case 'gearbox':
      return gearboxMechanics.travelFactors(stage);
    case 'beltDrive':
      return beltDriveMechanics.travelFactors(stage);
    case 'screw':
      return screwMechanics.travelFactors(stage);
    case 'worm':
      return wormMechanics.travelFactors(stage);
    case 'beltReduction':
      return beltReductionMechanics.travelFactors(stage);
    case 'rack':
      return rackMechanics.travelFactors(stage);
    case 'roller':
      return rollerMechanics.travelFactors(stage);
    case 'wireDrum':
      return wireDrumMechanics.travelFactors(stage);
    case 'rotaryTable':
      return rotaryTableMechanics.travelFactors(stage);
    case 'dosingHead':
      return dosingHeadMechanics.travelFactors(stage);
    case 'slide':
      return slideMechanics.travelFactors(stage);
  }
}

/** Power out over power in while power flows from the load to the motor; at or below 0 the stage locks itself. */
export function backDriveEfficiencyOf(stage: Stage): Outcome<number> {
  const isSliding = stage.kind === 'worm' || (stage.kind === 'screw' && stage.thread === 'sliding');
  const given = stage.kind === 'worm' ? stage.backDriveEfficiency : undefined;
  return given ?? (isSliding ? map(stage.efficiency, slidingBackDrive) : stage.efficiency);
}

/**
 * With the friction angle ρ of a thread and its lead angle λ, η = tan λ / tan(λ + ρ) and η back = tan(λ − ρ) / tan λ, which
 * is near 2 − 1/η at the lead angles of screws (Roloff/Matek, Machine Elements, motion screws).
 */
const slidingBackDrive = (efficiency: number): number => 2 - 1 / efficiency;

/** Whether plus at its input is minus at its output. */
export const turnsBack = (stage: Stage): boolean =>
  stage.kind === 'screw' ? stage.reverses !== stage.leftHand : stage.reverses;

/** Kinds of stage that turn rotation into travel along a line and so can only come last. */
export const travelKinds = [
  'beltDrive',
  'screw',
  'rack',
  'roller',
  'wireDrum',
] as const satisfies readonly Stage['kind'][];
/** Kinds of stage that turn rotation into rotation. */
export const turningKinds = [
  'direct',
  'gearbox',
  'beltReduction',
  'worm',
  'rotaryTable',
] as const satisfies readonly Stage['kind'][];

/** What the last stage of an axis may be: by what moves, and whether the motor turns or pushes along a line. */
export function lastKinds(motion: MotionKind, motorForm: MotorForm): readonly Stage['kind'][] {
  if (motorForm === 'linear') return ['slide'];
  switch (motion) {
    case 'linear':
      return travelKinds;
    case 'rotary':
      return turningKinds;
    case 'dosing':
      return ['dosingHead'];
  }
}

/** What the stages before the last may be. */
export const earlierKinds = (motorForm: MotorForm): readonly Stage['kind'][] =>
  motorForm === 'linear' ? [] : turningKinds;
