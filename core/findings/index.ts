export * from './finding.ts';
export * from './findingsOf.ts';
