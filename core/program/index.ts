export { burstTable } from './burstTable.ts';
export { isoProgram } from './isoProgram.ts';
export { plcProgram } from './plcProgram.ts';
export { type ProgramMove, type ProgramText } from './programMove.ts';
export { stepCsv, stepHeader, stepIntervals, type StepTimer } from './stepProgram.ts';
