import type { Exact } from '../../quantity/index.ts';
import type { Outcome } from '../../sheet/index.ts';
import type { MotionKind, MotorForm } from '../axisForm.ts';
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
import type { StageMechanics, StageRole } from './stageMechanics.ts';

/** Every kind of stage. */
export interface StageByKind {
  readonly direct: DirectStage;
  readonly gearbox: GearboxStage;
  readonly beltReduction: BeltReductionStage;
  readonly worm: WormStage;
  readonly rotaryTable: RotaryTableStage;
  readonly beltDrive: BeltDriveStage;
  readonly screw: ScrewStage;
  readonly rack: RackStage;
  readonly roller: RollerStage;
  readonly wireDrum: WireDrumStage;
  readonly dosingHead: DosingHeadStage;
  readonly slide: SlideStage;
}
export type StageKind = keyof StageByKind;

/** One element of the mechanics, in the order from the motor to the load. */
export type Stage = StageByKind[StageKind];

const mechanics: { readonly [K in StageKind]: StageMechanics<StageByKind[K]> } = {
  direct: directMechanics,
  gearbox: gearboxMechanics,
  beltReduction: beltReductionMechanics,
  worm: wormMechanics,
  rotaryTable: rotaryTableMechanics,
  beltDrive: beltDriveMechanics,
  screw: screwMechanics,
  rack: rackMechanics,
  roller: rollerMechanics,
  wireDrum: wireDrumMechanics,
  dosingHead: dosingHeadMechanics,
  slide: slideMechanics,
};

export const stageKinds = Object.keys(mechanics) as readonly StageKind[];

/** What the kind of a stage makes of it. */
const of = <K extends StageKind, T>(
  kind: K,
  stage: StageByKind[K],
  ask: (mechanics: StageMechanics<StageByKind[K]>, stage: StageByKind[K]) => T,
): T => ask(mechanics[kind], stage);

/** Turns at its input for one turn at its output. */
export const ratioOf = (stage: Stage): Outcome<Exact> => of(stage.kind, stage, (kind, each) => kind.ratio(each));

/** Factors whose product is the travel for one turn; undefined where it gives turns out. */
export const travelFactorsOf = (stage: Stage): Outcome<readonly Exact[]> | undefined =>
  of(stage.kind, stage, (kind, each) => kind.travelFactors(each));

/** Power out over power in while power flows from the load to the motor; at or below 0 the stage locks itself. */
export const backDriveEfficiencyOf = (stage: Stage): Outcome<number> =>
  of(stage.kind, stage, (kind, each) => kind.backDriveEfficiency?.(each)) ?? stage.efficiency;

/** Whether plus at its input is minus at its output. */
export const turnsBack = (stage: Stage): boolean =>
  of(stage.kind, stage, (kind, each) => kind.reverses?.(each)) ?? stage.reverses;

/** rpm at which it whirls; undefined where it does not. */
export const criticalSpeedOf = (stage: Stage): Outcome<number> | undefined =>
  of(stage.kind, stage, (kind, each) => kind.criticalSpeed?.(each));

/** mm that it gives for each N; undefined where it is stiff. */
export const complianceOf = (stage: Stage): Outcome<number> | undefined =>
  of(stage.kind, stage, (kind, each) => kind.compliance?.(each));

export const roleOf = (kind: StageKind): StageRole => mechanics[kind].role;

const kindsOf = (role: StageRole): readonly StageKind[] => stageKinds.filter((kind) => roleOf(kind) === role);

/** What the last stage of an axis may be: by what moves, and whether the motor turns or pushes along a line. */
export function lastKinds(motion: MotionKind, motorForm: MotorForm): readonly StageKind[] {
  if (motorForm === 'linear') return kindsOf('pushed');
  switch (motion) {
    case 'linear':
      return kindsOf('travel');
    case 'rotary':
      return kindsOf('turning');
    case 'dosing':
      return kindsOf('dosing');
  }
}

/** What the stages before the last may be. */
export const earlierKinds = (motorForm: MotorForm): readonly StageKind[] =>
  motorForm === 'linear' ? [] : kindsOf('turning');
