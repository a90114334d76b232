export * from './rules.ts';
export * from './brokenText.ts';
export * from './fields.ts';
export * from './commandDocument.ts';
export * from './documents.ts';
export * from './stageDocument.ts';
export * from './checkedAxis.ts';
export * from './checkedSpindle.ts';
export * from './spindleDocument.ts';
export * from './member.ts';
export * from './newAxis.ts';
export * from './newSpindle.ts';
export * from './duplicateOf.ts';
export * from './driveProfileFile.ts';
export * from './library/index.ts';
export * from './records.ts';
export * from './trace/index.ts';
export * from './changes/index.ts';
export * from './file/index.ts';
export {
  upgradeAxis1,
  upgradeAxis2,
  upgradeAxis3,
  upgradeEntry2,
  upgradeEntry4,
  upgradeEntry5,
  upgradeMachine1,
  upgradeMember4,
  upgradeMember5,
} from './upgrades.ts';
export * from './paths.ts';
export * from './endpoints.ts';
export * from './openApi.ts';
export * from './live.ts';
export type { FieldProblem } from './toCore/fieldReader.ts';
export * from './toCore/readAxis.ts';
export * from './toCore/readSpindle.ts';
export { signalRuleOf, valueRuleOf } from './toCore/readCommand.ts';
export * from './toCore/memberPlan.ts';
export * from './toCore/plannedValues.ts';
export * from './toCore/plannedSpindleValues.ts';
export * from './toCore/endPlans.ts';
export { holdsPosition } from './toCore/drivePlan.ts';
export { spindleEndSheets } from './toCore/spindleEndPlans.ts';
export * from './toCore/sharedDevices.ts';
export * from './toCore/suppliesOf.ts';
export * from './toCore/servoDefinition.ts';
export { homingTimeOut, predictedHoming, type PredictedHoming } from './toCore/predictedHoming.ts';
export * from './toCore/resultChanges.ts';
export * from './unread.ts';
export { hostSchema } from './parts.ts';
