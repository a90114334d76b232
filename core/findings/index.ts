export * from './finding.ts';
export * from './findingsOf.ts';
export { standingAtEnable } from './commandFindings.ts';
export type { CheckedSpindle, SpindleFinding } from './spindle/checkedSpindle.ts';
export { spindleFindingsOf } from './spindle/spindleFindingsOf.ts';
