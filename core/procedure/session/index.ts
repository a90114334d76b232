export * from './deviceIdentity.ts';
export * from './memberPlan.ts';
export * from './reduceSession.ts';
export * from './sessionMessages.ts';
export * from './sessionState.ts';
export * from './sessionTiming.ts';
export { approachSpeed } from './axisScripts.ts';
export { activityOf, driveState, holdsDevice, isBusy, isLive, isPowered, isStale } from './turn.ts';
