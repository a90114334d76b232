export * from './moveMeasures.ts';
export * from './spectrum.ts';
export * from './tooSlow.ts';
export * from './triggerOf.ts';
export * from './windowMeasures.ts';
export * from './speedNoise.ts';
export * from './cycleOf.ts';
