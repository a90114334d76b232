export * from './plate.ts';
export * from './rampsAndBraking.ts';
export * from './speedWord.ts';
export * from './voltsPerHertz.ts';
