export * from './driveTrain.ts';
export * from './moveProfile.ts';
export * from './planMove.ts';
export * from './moveTorque.ts';
export * from './traceFigures.ts';
export * from './stopping.ts';
export * from './recognisedMove.ts';
export * from './setPointWait.ts';
