export * from './causes.ts';
export * from './observations.ts';
export * from './rankCauses.ts';
