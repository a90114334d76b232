export * from './homingMethod.ts';
export type { PathPiece } from './motionPath.ts';
export * from './homingSequence.ts';
export * from './predictHoming.ts';
export * from './repeatability.ts';
export * from './longestHoming.ts';
