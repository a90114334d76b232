export * from './knownFactors.ts';
export * from './measuredCounts.ts';
export * from './measuredTravel.ts';
export * from './straightLine.ts';
export * from './studentFactor.ts';
export * from './hostMoves.ts';
export * from './indicatorReturns.ts';
