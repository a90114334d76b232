export * from './writeAndVerify.ts';
export * from './sensorWalk.ts';
export * from './session/index.ts';
