export * from './finding.ts';
export * from './findingsOf.ts';
export * from './standingAtEnable.ts';
