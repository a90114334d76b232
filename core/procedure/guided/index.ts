export * from './axisGuide.ts';
export * from './boundStep.ts';
export * from './diagnose.ts';
export * from './guidedStep.ts';
export * from './look.ts';
export * from './spindleGuide.ts';
export * from './startValues.ts';
export * from './stopPrediction.ts';
export { timeAtSpeed } from './steps/stops.ts';
