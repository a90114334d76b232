export * from './homingMethod.ts';
export type { PathPiece } from './motionPath.ts';
export * from './homingSequence.ts';
export * from './predictHoming.ts';
export * from './repeatability.ts';
export * from './longestHoming.ts';
export * from './chooseHoming.ts';
export * from './positioning.ts';
export { normalTail } from './normalTail.ts';
