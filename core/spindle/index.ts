export * from './plate.ts';
export * from './rampsAndBraking.ts';
export * from './speedRange.ts';
export * from './speedWord.ts';
export * from './tachometer.ts';
export * from './voltsPerHertz.ts';
