export * from './finding.ts';
export * from './findingsOf.ts';
export { standingAtEnable } from './commandFindings.ts';
export type { CheckedSpindle, SpindleFinding } from './spindle/checkedSpindle.ts';
export { spindleFindingsOf } from './spindle/spindleFindingsOf.ts';
export { homingFindingsOf } from './homing/homingFindingsOf.ts';
export type { CheckedHoming, HomingFinding } from './homing/checkedHoming.ts';
