export * from './writeAndVerify.ts';
export * from './sensorWalk.ts';
export * from './guided/index.ts';
export * from './session/index.ts';
