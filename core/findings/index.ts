export * from './finding.ts';
export * from './findingsOf.ts';
export * from './standingAtEnable.ts';
export type { CheckedSpindle, SpindleFinding } from './spindle/checkedSpindle.ts';
export { spindleFindingsOf } from './spindle/spindleFindingsOf.ts';
