export * from './outcome.ts';
export * from './formula.ts';
export * from './evaluate.ts';
export * from './working.ts';
