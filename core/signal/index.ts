export * from './levels.ts';
export * from './protection.ts';
export * from './pulseForm.ts';
export * from './pulseTiming.ts';
export * from './pulseTrain.ts';
export * from './pulseTrainToVcd.ts';
export * from './seriesResistor.ts';
export * from './untimedTrain.ts';
